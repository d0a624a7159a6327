import type { View } from '../camera/view.js';

/** Views in another variant: equal ones stay one object, by which names are remembered. */
export function viewsInVariant(variant: string | undefined): (view: View) => View {
  const made = new Map<View, View>();
  return (view) => {
    const known = made.get(view) ?? { ...view, overrides: { ...view.overrides, ...(variant !== undefined && { variant }) } };
    made.set(view, known);
    return known;
  };
}
