import { Dropdown, type DropdownProps, Popover, type PopoverProps } from "antd";
import { useEffect, useState } from "react";

import { onTop } from "../../interaction/topmost";

function useTopmost(given: boolean | undefined, tell: ((open: boolean) => void) | undefined): readonly [boolean, (open: boolean) => void] {
  const [own, set] = useState(false);
  const open = given ?? own;
  const put = (to: boolean) => {
    set(to);
    tell?.(to);
  };
  useEffect(() => (open ? onTop(() => put(false)) : undefined), [open]);
  return [open, put];
}

/** A menu behind a button. Esc closes it and nothing else, wherever the keys go. */
export function Drop({ open, onOpenChange, ...more }: DropdownProps) {
  const [on, put] = useTopmost(open, (to) => onOpenChange?.(to, { source: "trigger" }));
  return <Dropdown {...more} open={on} onOpenChange={put} />;
}

/** A small panel behind a button, closed alike. */
export function Pop({ open, onOpenChange, ...more }: PopoverProps) {
  const [on, put] = useTopmost(open, (to) => onOpenChange?.(to));
  return <Popover {...more} open={on} onOpenChange={put} />;
}
