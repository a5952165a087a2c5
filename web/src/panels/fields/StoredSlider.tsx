import { Slider, type SliderSingleProps } from "antd";
import { useRef, useState } from "react";

type Props = Omit<SliderSingleProps, "value" | "onChange" | "onChangeComplete"> & {
  /** as it is stored */
  readonly value: number;
  /** where a hand's value comes to lie */
  readonly within?: (value: number) => number;
  readonly onTry?: (value: number) => void;
  readonly onStore: (value: number) => Promise<unknown>;
  /** what was tried is stored, or is not going to be */
  readonly onRest?: () => void;
};

/** A slider of a stored number. It stays where it was taken until that is stored, and what is asked last is stored last: an
 * answer that comes between a key's press and its release takes nothing back. */
export function StoredSlider({ value, within = (v) => v, onTry, onStore, onRest, ...look }: Props) {
  const [held, hold] = useState<number | null>(null);
  const asked = useRef<number | null>(null);
  return (
    <Slider
      {...look}
      value={held ?? value}
      onChange={(v) => {
        asked.current = within(v);
        hold(asked.current);
        onTry?.(asked.current);
      }}
      onChangeComplete={(v) => {
        const now = asked.current ?? within(v);
        asked.current = now;
        void onStore(now).finally(() => {
          if (asked.current !== now) return;
          asked.current = null;
          hold(null);
          onRest?.();
        });
      }}
    />
  );
}
