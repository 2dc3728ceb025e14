// Passwords that are tried first by whoever tries any: the commonest of twelve letters and more, and what the product itself is called.
// Compared in small letters, without what stands between words.
const COMMON = `123456789012 1234567890123 12345678901234 123456123456 123123123123 111111111111 000000000000 112233445566 121212121212
qwertyuiopas qwertyuiop12 qwertyuiop123 qwertyqwerty qwerty123456 qwerty12345678 asdfghjklzxc 1qaz2wsx3edc 1q2w3e4r5t6y q1w2e3r4t5y6 zxcvbnmasdfg
passwordpassword password1234 password12345 password123456 password12345678 mypassword123 newpassword123 changeme1234 changemenow12 letmeinletmein letmein123456
iloveyou1234 iloveyouforever iloveyousomuch iloveyou123456 welcome12345 welcome123456 welcometo123 administrator administrator1 adminadmin12 admin1234567 admin12345678 rootrootroot
trustno1trustno1 football1234 baseball1234 superman1234 dragondragon monkeymonkey sunshine1234 princess1234 michaeljackson manchesterunited liverpoolfc1
abcdefghijkl abcdefghijklm abcd12345678 abc123abc123 aaaaaaaaaaaa testtesttest test12345678 testpassword secretsecret supersecret1 correcthorsebatterystaple
noblelantern noblelantern1 noblelantern12 noblelantern123 livestream123 livestreaming broadcast123 lanternlantern`
  .split(/\s+/)
  .filter(Boolean);

const KNOWN = new Set(COMMON);

const plain = (text: string): string => text.toLowerCase().replace(/[\s._-]+/g, '');

/** Whether a password is one of the first that anybody would try. `own`: names of the station and the person. */
export function isCommonPassword(password: string, own: readonly string[] = []): boolean {
  const tidy = plain(password);
  if (KNOWN.has(tidy) || /^(.{1,4})\1+$/.test(tidy)) return true;
  return own.map(plain).some((name) => name.length >= 4 && tidy.replace(/\d+$/, '') === name);
}
