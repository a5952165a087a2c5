import { Dropdown, Input, type InputRef } from "antd";
import { type Ref, useEffect, useLayoutEffect, useRef, useState } from "react";

import { sentence, type Unit } from "../../api/client";
import { focusView } from "../../interaction/focus";
import { remember, usePrefs } from "../../model/prefs";
import { useEditor } from "../../model/store";
import { fromShown, shown, shownUnit, tidy, toShown } from "../../model/units";
import { tell, undoOrRedo } from "../../sync/build";
import { evaluate, settleFields, track } from "../../sync/expression";
import { useFitting } from "./useFitting";

/** What the main button of a dialog does, once what was typed is read. */
function pressPrimary(field: HTMLElement): void {
  const button = field.closest('[role="dialog"]')?.querySelector<HTMLButtonElement>(".ant-btn-primary");
  void settleFields().then(() => requestAnimationFrame(() => button?.isConnected && !button.disabled && button.click()));
}

const PLAIN = /^[-+]?\d+([.,]\d+)?$/;

interface Props {
  /** null where it is left out: what stands then follows from what is there, as `empty` says */
  readonly value: number | null;
  readonly empty?: string;
  /** emptied, or Enter while it is empty */
  readonly onEmpty?: () => void;
  readonly label: string;
  /** the build's unit for lengths, which are shown and typed in the unit the person likes; null for plain numbers, whose suffix
   * tells what they are */
  readonly unit: Unit | null;
  /** 2 for areas, 3 for volumes: shown and typed in squares and cubes of the unit */
  readonly power?: number;
  readonly suffix?: string;
  readonly whole?: boolean;
  readonly width?: number;
  readonly disabled?: boolean;
  readonly inputRef?: Ref<InputRef> | undefined;
  /** what recent values it shares with others; lengths share theirs unless told otherwise */
  readonly quantity?: string;
  /** while typing, each value that can be read */
  readonly onTry?: (value: number) => void;
  /** Enter, Tab or leaving the field */
  readonly onCommit: (value: number) => void;
  readonly onCancel?: () => void;
  /** Enter after the commit, and Esc unless that has a way of its own */
  readonly onEnter?: () => void;
  readonly onLeave?: () => void;
  /** Enter is not waited for: what it does takes the number once it is read */
  readonly atOnce?: boolean;
  /** what was typed cannot be read; the person has been told */
  readonly onFault?: () => void;
}

/** A number edited in place. Understands units, sums and relative values; the wheel never changes it. */
export function NumberField(p: Props) {
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const base = useRef(p.value ?? 0);
  const turn = useRef(0);
  const done = useRef(false);
  /** whether it was pressed since it got the focus: the first press takes the number whole, the next puts the caret */
  const pressed = useRef(false);
  /** why what is typed cannot be read, and for which text that was told */
  const why = useRef("");
  const told = useRef<string | null>(null);
  /** Enter was pressed and the core still reads: Esc takes nothing back any more */
  const committing = useRef(false);
  const [offering, setOffering] = useState(false);
  const unit = useEditor(shownUnit);
  const power = p.unit === null ? 0 : (p.power ?? 1);
  const suffix = p.suffix ?? (power === 1 ? unit : "");
  const show = (value: number | null) => (value === null ? "" : power === 0 ? shown(value) : tidy(toShown(value, power)));
  const quantity = p.quantity ?? (p.unit !== null ? "length" : p.label);
  const recent = usePrefs((all) => all.recent[quantity]);
  const frame = useRef<HTMLSpanElement>(null);
  useFitting(frame, `${text ?? (p.value === null ? p.empty : show(p.value))} ${suffix}`, p.width ?? 92);

  useEffect(() => {
    if (text === null) base.current = p.value ?? 0;
  }, [p.value, text]);

  const standing = text === null ? show(p.value) : null;
  useLayoutEffect(() => {
    const input = frame.current?.querySelector("input");
    // another number stands there by now: it is still the whole of it that the next digits replace
    if (standing !== null && input != null && document.activeElement === input) input.select();
  }, [standing]);

  const read = async (typed: string, meant = false): Promise<number | null> => {
    const mine = ++turn.current;
    try {
      const bare = power !== 1 && suffix !== "" && typed.endsWith(suffix) ? typed.slice(0, -suffix.length) : typed; // 30°, 50 %
      const value = fromShown(await evaluate(bare, toShown(base.current, power), power === 1 ? unit : null, meant), power);
      if (mine !== turn.current) return null;
      setFault(null);
      return p.whole ? Math.round(value) : value;
    } catch (error) {
      if (mine === turn.current) setFault((why.current = sentence(error)));
      return null;
    }
  };

  const type = async (typed: string) => {
    setText(typed);
    done.current = false;
    if (p.onTry === undefined || typed.trim() === "") return;
    const value = await read(typed);
    if (value !== null && !done.current) p.onTry(value);
  };

  const commit = async (): Promise<boolean> => {
    if (text === null || done.current) return true;
    if (text.trim() === "") {
      if (p.onEmpty === undefined) drop();
      else {
        leave();
        if (p.value !== null) p.onEmpty();
      }
      return true;
    }
    done.current = true;
    committing.current = true;
    const value = await read(text, true);
    committing.current = false;
    if (value === null) {
      done.current = false;
      if (told.current !== text) tell(why.current);
      p.onFault?.();
      told.current = text; // leaving it after Enter does not tell it again
      return false;
    }
    setText(null);
    give(value);
    return true;
  };

  const give = (value: number) => {
    base.current = value;
    if (!p.whole && value !== 0) remember(quantity, value);
    p.onCommit(value);
  };

  const leave = () => {
    turn.current += 1;
    done.current = true;
    setText(null);
    setFault(null);
  };

  const drop = () => {
    leave();
    p.onCancel?.();
  };

  const offered = (recent ?? []).filter((v) => v !== p.value);
  return (
    <Dropdown
      trigger={[]}
      open={offering && offered.length > 0}
      onOpenChange={(open) => !open && setOffering(false)}
      menu={{ items: offered.map((v) => ({ key: String(v), label: `${show(v)} ${power === 1 ? unit : suffix}` })), onClick: ({ key }) => { setOffering(false); setText(null); give(Number(key)); } }}
    >
      <span className="numberfield" ref={frame} onContextMenu={(e) => { e.preventDefault(); setOffering(true); }}>
        <Input
          ref={p.inputRef ?? null}
          size="small"
          aria-label={p.label}
          title={fault ?? undefined}
          status={fault === null ? "" : "error"}
          value={text ?? show(p.value)}
          {...(p.empty === undefined ? {} : { placeholder: p.empty })}
          disabled={p.disabled ?? false}
          suffix={<span className="unit">{suffix}</span>}
          className="number"
          onFocus={(e) => {
            done.current = false;
            told.current = null;
            e.target.select();
          }}
          onMouseDown={(e) => {
            const field = e.currentTarget;
            if (document.activeElement === field && !pressed.current && text === null) {
              e.preventDefault(); // the caret would take the number apart that the next digits are to replace
              field.select();
            }
            pressed.current = true;
          }}
          onInput={(e) => {
            // typed as it stands: no change is told of that, and yet it is meant
            if (text === null && e.currentTarget.value === show(p.value)) void track(type(e.currentTarget.value));
          }}
          onChange={(e) => {
            setOffering(false);
            void track(type(e.target.value));
          }}
          onBlur={() => {
            pressed.current = false;
            void track(commit()).then((fine) => {
              if (!fine) drop();
            });
          }}
          onKeyDown={(e) => {
            const field = e.currentTarget;
            const dialog = field.closest('[role="dialog"]') !== null;
            if (!dialog || e.key !== "Escape" || text !== null) e.stopPropagation(); // else it closes the dialog
            if (e.key === "Enter" && offering) setOffering(false);
            const done = p.onEnter ?? (dialog ? () => pressPrimary(field) : e.currentTarget.closest("form") === null ? focusView : undefined);
            if (e.key === "Enter") {
              const plain = p.atOnce === true || text === null || text === "" || PLAIN.test(text);
              // a trial is meant as it stands, though the number typed is the one that was proposed
              if (p.value === null && (text ?? "").trim() === "") p.onEmpty?.();
              else if (p.value !== null && text === null && p.onCancel !== undefined) give(p.value);
              const read = track(commit());
              if (plain) done?.(); // what is pressed from now on is meant for the view
              else void read.then((fine) => document.activeElement === field && (fine ? done?.() : field.select()));
            }
            if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === "z" && text === null) {
              e.preventDefault(); // nothing was typed that could be taken back here
              void undoOrRedo(e.shiftKey ? "redo" : "undo");
            }
            if (e.key === "ArrowDown") setOffering(true);
            if (e.key === "Escape" && offering) setOffering(false);
            else if (e.key === "Escape") {
              if (!committing.current) drop();
              if (!dialog) (p.onLeave ?? done)?.();
            }
          }}
        />
        {/* after the field: a label round both belongs to the first */}
        <button
          type="button"
          className="zero"
          tabIndex={-1}
          aria-label="Zero"
          title="To zero; ↓ offers recent values"
          disabled={p.disabled ?? false}
          onMouseDown={(e) => e.preventDefault()}
          onClick={() => {
            done.current = true;
            turn.current += 1;
            setText(null);
            setFault(null);
            give(0);
          }}
        >
          ⤓
        </button>
      </span>
    </Dropdown>
  );
}
