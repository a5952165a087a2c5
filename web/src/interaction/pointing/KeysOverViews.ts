import { editor } from "../../model/store";
import { useDragged } from "../../model/session/dragged";
import { takesNumbers } from "../../model/session/typing";
import { settleFields } from "../../sync/expression";
import { focusValueField } from "../focus";
import type { Gesture } from "../gestures/Gesture";
import { commandFor, TYPED } from "../keys/commands";
import { beginning } from "../keys/startKind";
import { stored } from "../session/storing";
import type { Turns } from "./Turns";

/** The gesture under way, as keys act on it. */
export interface UnderWay {
  gesture(): Gesture | null;
  /** end it as if it had never begun */
  giveUp(): void;
}

/** Keys pressed over the views: commands, and digits for the value field. They come to pass after what was done before them. */
export class KeysOverViews {
  /** the space bar is held: a drag pans */
  space = false;
  /** digits pressed while something else had its turn */
  private typed = "";

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly turns: Turns,
    private readonly underWay: UnderWay,
  ) {}

  down(e: KeyboardEvent): void {
    useDragged.setState({ told: null });
    if (e.key === " ") {
      this.space = true;
      e.preventDefault();
      return;
    }
    // a path keeps its own order: what is typed goes into the fields of the next point at once
    const ofPath = editor.get().path !== null && (TYPED.test(e.key) || e.key === "Tab");
    const begun = beginning();
    if (begun !== null && this.turns.pending === 0) void this.turns.take(() => begun); // a tool that comes takes what is pressed now
    if (this.turns.pending > 0 && this.underWay.gesture() === null && !ofPath) {
      if (commandFor(e) !== undefined || TYPED.test(e.key)) e.preventDefault();
      void this.turns.take(() => this.act(e, true));
    } else {
      void this.act(e, false);
    }
  }

  /** Digits that waited go into the value field together: once it has the focus, what is typed next goes there by itself. */
  private writeTyped(): void {
    if (this.typed === "") return;
    focusValueField();
    document.execCommand("insertText", false, this.typed);
    this.typed = "";
  }

  private async act(e: KeyboardEvent, late: boolean): Promise<void> {
    if (late) await new Promise((r) => requestAnimationFrame(() => setTimeout(r, 0))); // until what the last gesture opened is drawn
    // no digit, sign or point is a shortcut: they open the value field, which takes every key from then on
    if (takesNumbers() && !e.ctrlKey && !e.metaKey && !e.altKey && TYPED.test(e.key)) {
      if (!late) focusValueField();
      else {
        this.typed += e.key;
        if (this.turns.pending < 2) this.writeTyped(); // else with what was pressed after it
      }
      return;
    }
    if (late) this.writeTyped();
    if (e.key === "Tab" && takesNumbers()) {
      e.preventDefault();
      focusValueField();
      return;
    }
    const command = commandFor(e);
    if (command === undefined) return;
    e.preventDefault();
    const gesture = this.underWay.gesture();
    if (gesture !== null) {
      if (command.id === "undo" || command.id === "cancel") this.underWay.giveUp();
      else gesture.key?.(command.id);
      return;
    }
    const run = async () => {
      if (command.group !== "view") {
        await settleFields(); // what was typed just before counts
        await stored(); // and is stored first
      }
      await command.run();
    };
    if (late) {
      const typing = document.activeElement !== this.canvas;
      await run();
      if (typing && command.id === "accept") this.canvas.focus({ preventScroll: true });
    } else void this.turns.take(run);
  }
}
