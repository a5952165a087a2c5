import { Tooltip, type TooltipProps } from "antd";
import type { TooltipRef } from "antd/es/tooltip";
import { type ReactElement, type ReactNode, type Ref, useRef, useState } from "react";

type Place = NonNullable<TooltipProps["placement"]>;

/** A hint waits so many seconds, so that it never comes in the way of a hand that knows where it goes. */
const WAIT = 0.7;

/** Where a hint covers no other control: above the whole tray, beside panels, below bars. */
function placeFor(element: HTMLElement): { placement: Place; lift: number } {
  const tray = element.closest(".tray");
  if (tray !== null) return { placement: "top", lift: element.getBoundingClientRect().top - tray.getBoundingClientRect().top };
  const placement: Place = element.closest(".right") ? "left" : element.closest(".left") ? "right" : element.closest(".topbar, .panebar, .viewbar") ? "bottom" : "top";
  return { placement, lift: 0 };
}

/** What a control does, told on resting over it. It takes no click and covers no control beside it. */
export function Tip({ title, children, ref, ...rest }: { readonly title: ReactNode; readonly children: ReactElement; readonly ref?: Ref<TooltipRef> }) {
  const own = useRef<TooltipRef>(null);
  const pressed = useRef(false);
  const [shown, show] = useState(false);
  const [{ placement, lift }, put] = useState<{ placement: Place; lift: number }>({ placement: "top", lift: 0 });
  return (
    <Tooltip
      {...rest} // what a menu or popover round it gives its child
      ref={(made) => {
        own.current = made;
        if (typeof ref === "function") ref(made);
        else if (ref != null) ref.current = made;
        const off = new AbortController();
        const { signal } = off;
        // what was pressed is known: a hint over the menu it opened would be closed by Esc in the menu's place
        const press = () => {
          pressed.current = true;
          show(false);
        };
        made?.nativeElement?.addEventListener("pointerdown", press, { signal });
        made?.nativeElement?.addEventListener("pointerleave", () => (pressed.current = false), { signal });
        return () => {
          off.abort();
          if (typeof ref === "function") ref(null);
          else if (ref != null) ref.current = null;
        };
      }}
      title={title}
      placement={placement}
      align={{ offset: [0, -lift] }}
      mouseEnterDelay={WAIT}
      mouseLeaveDelay={0}
      trigger="hover"
      arrow={false}
      open={shown}
      onOpenChange={(open) => {
        const element = own.current?.nativeElement;
        if (open && element !== undefined) put(placeFor(element));
        show(open && !pressed.current);
      }}
    >
      {children}
    </Tooltip>
  );
}
