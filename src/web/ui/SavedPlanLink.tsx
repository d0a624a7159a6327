/** A link to what the server makes of the saved set: it waits for the last edit to be there, and says why where it is not. */
import { type ReactNode, useRef } from 'react';
import { useWorkspace } from '../app/workspace.js';
import { toast } from '../state/toast.js';

/** A link to something that is made from the saved set: it waits until all is saved. */
export function SavedPlanLink({ href, children }: { href: string; children: ReactNode }): ReactNode {
  const { plan } = useWorkspace();
  const flushed = useRef(false);
  return (
    <a
      className="underline"
      href={href}
      download
      onClick={(e) => {
        if (!plan?.saving || flushed.current) {
          flushed.current = false;
          return;
        }
        e.preventDefault();
        const link = e.currentTarget;
        plan.flush().then(
          () => {
            flushed.current = true;
            link.click();
          },
          (fault: Error) => toast.error(fault.message),
        );
      }}
    >
      {children}
    </a>
  );
}
