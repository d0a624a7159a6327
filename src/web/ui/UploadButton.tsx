/** A button that brings a file in and tells what the server made of it. */
import { type ReactNode, useRef, useState } from 'react';
import { upload } from '../state/api.js';
import { toast } from '../state/toast.js';
import { Button } from './controls.js';
import { MESSAGES } from './words.js';
import { FileInput } from './FileInput.js';

/** What is uploaded, and where to. */
export interface UploadButtonProps<T> {
  /** Where it is sent. */
  path: string;
  accept: string;
  /** Of the file field. */
  label: string;
  children: ReactNode;
  onReply: (reply: T, name: string) => void;
}

/** A button that sends a file. */
export function UploadButton<T>({ path, accept, label, children, onReply }: UploadButtonProps<T>): ReactNode {
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const bring = async (file: File): Promise<void> => {
    setBusy(true);
    try {
      onReply(await upload<T>(path, [file]), file.name);
    } catch (e) {
      toast.error((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Button onClick={() => input.current?.click()} disabled={busy}>
        {busy ? MESSAGES.reading : children}
      </Button>
      <FileInput input={input} accept={accept} label={label} onFile={bring} />
    </>
  );
}
