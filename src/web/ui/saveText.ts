/** Gives something to the browser as a file to keep. */
export function saveBlob(name: string, blob: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}

/** The same of a text. */
export const saveText = (name: string, text: string): void => saveBlob(name, new Blob([text], { type: 'text/plain' }));
