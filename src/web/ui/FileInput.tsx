import type { ReactNode, RefObject } from 'react';

/** The file field behind a button, which opens it by its ref. The same file can be chosen again, changed meanwhile or not. */
export function FileInput(props: {
  input: RefObject<HTMLInputElement | null>;
  accept: string;
  label: string;
  onFile(file: File): Promise<void>;
}): ReactNode {
  const { input, accept, label, onFile } = props;
  return (
    <input
      ref={input}
      type="file"
      accept={accept}
      className="hidden"
      aria-label={label}
      onChange={(e) => {
        const file = e.target.files?.[0];
        if (file) void onFile(file);
        e.target.value = '';
      }}
    />
  );
}
