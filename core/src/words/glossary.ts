// The product's own words, each in a sentence or two, for whoever meets one for the first time.

export const GLOSSARY = {
  line: 'A named way in to a channel: an address to which the picture is sent, and a key to it. Two shows at once want two lines.',
  placing:
    'Placing makes the show’s event on each channel: with its title, text, picture and start, and a link for viewers. Until then nobody outside sees anything.',
  drift: 'What differs between the show here and its event on the channel, because somebody changed it there. You say which side is to win.',
  milestone:
    'The work around a show with its dates, from announcing it to the replay. What is done is ticked by the facts themselves, the rest by you. When each is due is set under Station, or here for this show alone.',
  lamps:
    'Each channel has a lamp. Dark: nothing arrives there. Warm: the picture arrives, and is not public. Lit: it is public. Out: it is over. Fault: it is in trouble, and the words beside it say what to do.',
} as const;

export type GlossaryWord = keyof typeof GLOSSARY;
