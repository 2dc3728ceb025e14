// A button that takes a font from a file.
import type { ReactNode } from 'react';

export const FontInput = ({ children, onFont }: { children: ReactNode; onFont: (file: File) => void }) => (
  <label className="btn btn-quiet btn-sm file-button">
    <input
      type="file"
      className="visually-hidden"
      accept=".ttf,.otf,.woff,.woff2"
      onChange={({ target }) => {
        const [file] = target.files ?? [];
        target.value = '';
        if (file) onFont(file);
      }}
    />
    {children}
  </label>
);
