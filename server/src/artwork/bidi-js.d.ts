declare module 'bidi-js' {
  interface Bidi {
    /** One level for each UTF-16 unit of the text; odd: from right to left. */
    getEmbeddingLevels(text: string, direction?: 'ltr' | 'rtl' | 'auto'): { levels: Uint8Array; paragraphs: { start: number; end: number; level: number }[] };
    getMirroredCharacter(character: string): string | null;
  }
  export default function bidiFactory(): Bidi;
}
