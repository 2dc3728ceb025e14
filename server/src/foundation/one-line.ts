/** What strangers typed, as one line: without line ends and other control characters. */
export const oneLine = (text: string): string => text.replace(/[\s\u0000-\u001f\u007f]+/g, ' ').trim();
