import type { ButtonHTMLAttributes, ReactNode } from 'react';

/** A button that a finger hits: 44 pixels high (WCAG 2.5.5). */
export function PageButton({
  primary = false,
  className = '',
  ...props
}: ButtonHTMLAttributes<HTMLButtonElement> & { primary?: boolean }): ReactNode {
  const tone = primary ? 'border-madder bg-madder text-chalk' : 'border-graphite';
  return (
    <button
      type="button"
      {...props}
      className={`inline-flex h-11 min-w-11 items-center justify-center gap-2 rounded-sm border px-3 disabled:opacity-40 ${tone} ${className}`}
    />
  );
}
