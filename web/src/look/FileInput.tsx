// A button that takes one file.
import type { ReactNode } from 'react';

interface Props {
  children: ReactNode;
  accept: string;
  onFile: (file: File) => void;
}

export const FileInput = ({ children, accept, onFile }: Props) => (
  <label className="btn btn-quiet btn-sm file-button">
    <input
      type="file"
      className="visually-hidden"
      accept={accept}
      onChange={({ target }) => {
        const [file] = target.files ?? [];
        // The same file can be chosen once more.
        target.value = '';
        if (file) onFile(file);
      }}
    />
    {children}
  </label>
);
