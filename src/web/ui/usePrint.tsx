/** Pages for the printer, or for a PDF file that the browser makes of them: built when they are asked for. */
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { createPortal } from 'react-dom';

/** Has the browser print what it is given, once its images are there. `sheet` must stand somewhere in the page. */
export function usePrint(): { sheet: ReactNode; print: (content: ReactNode) => void } {
  const [content, setContent] = useState<ReactNode>(null);
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (content === null) return;
    let gone = false;
    const done = (): void => setContent(null);
    window.addEventListener('afterprint', done);
    // What cannot be shown is missing on paper too.
    const images = [...box.current!.querySelectorAll('img')].map((image) => image.decode().catch(() => undefined));
    void Promise.all(images).then(() => {
      if (!gone) window.print();
    });
    return () => {
      gone = true;
      window.removeEventListener('afterprint', done);
    };
  }, [content]);
  const sheet =
    content === null
      ? null
      : createPortal(
          <div ref={box} className="print-sheet" data-testid="print-sheet">
            {content}
          </div>,
          document.body,
        );
  return { sheet, print: setContent };
}
