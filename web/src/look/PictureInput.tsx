// A button that takes a picture from a file, and looks at it before it is sent.
import { THUMBNAIL_MAX_BYTES } from '@lantern/contract';
import type { ReactNode } from 'react';
import { FileInput } from './FileInput';

export const PICTURE_TYPES = 'image/jpeg,image/png,image/webp,image/avif,image/svg+xml';

interface Props {
  children: ReactNode;
  onPicture: (file: File) => void;
  onTrouble: (words: string) => void;
}

export function PictureInput({ children, onPicture, onTrouble }: Props) {
  const look = (file: File) => void troubleWith(file).then((trouble) => (trouble ? onTrouble(trouble) : onPicture(file)));
  return (
    <FileInput accept={PICTURE_TYPES} onFile={look}>
      {children}
    </FileInput>
  );
}

/** What is wrong with a file that should be a picture; null: nothing that can be seen from here. */
export async function troubleWith(file: File): Promise<string | null> {
  if (file.size === 0) return `${file.name} is empty. Choose the picture again.`;
  if (file.size > THUMBNAIL_MAX_BYTES) {
    return `${file.name} weighs ${(file.size / 1e6).toFixed(1)} MB. Choose a picture of at most ${THUMBNAIL_MAX_BYTES / 1e6} MB.`;
  }
  // An image element reads all that is taken; bitmaps are made of no drawings.
  const image = new Image();
  image.src = URL.createObjectURL(file);
  const readable = await image.decode().then(
    () => true,
    () => false,
  );
  URL.revokeObjectURL(image.src);
  return readable ? null : `${file.name} is not a picture that can be read. Choose a JPEG, PNG, WebP, AVIF or SVG file.`;
}
