import { Input, type InputRef, Modal } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";

import { commands, type Group, keysOf } from "../../interaction/keys/commands";
import { backToView, focusView } from "../../interaction/focus";
import { fitting, startKind } from "../../interaction/keys/startKind";
import { accept } from "../../interaction/session/storing";
import { look } from "../../interaction/viewing";
import { toggleFavourite, usePrefs } from "../../model/prefs";
import { editor, kindOf, partOf } from "../../model/store";
import { SYNONYMS } from "../../model/steps/synonyms";
import { FLAT_VIEWS, VIEW_TITLES } from "../../model/views";
import { lookOf } from "../../tools/manifest";
import { Icon } from "../fields/Icon";

interface Found {
  readonly key: string;
  /** what it is kept by as a favourite; null for what cannot be one */
  readonly id: string | null;
  readonly title: string;
  readonly hint: string;
  /** what else people call it */
  readonly said: string;
  /** where it stands by itself */
  readonly where?: string;
  readonly run: () => void;
}

/** Where commands stand. */
const WHERE: Readonly<Record<Group, string>> = { brief: "Brief", pick: "Pick ▾", work: "tray", view: "views", switch: "tray", place: "Form", draw: "Form", build: "" };

/** Everything that can be found: every command, view and kind of step, parts, steps of the current part. */
function everything(): Found[] {
  const state = editor.get();
  const part = partOf(state, state.current);
  const reached = new Set(commands().map((c) => c.id));
  const kinds = state.kinds.filter((k) => !k.form && !reached.has(k.word) && lookOf(k.word).place === undefined);
  return [
    ...commands().map((c) => ({ key: `tool/${c.id}`, id: c.id, title: c.title, hint: keysOf(c)[0]?.replaceAll("+", " ") ?? "", said: SYNONYMS[c.id] ?? "", where: WHERE[c.group], run: () => void c.run() })),
    ...FLAT_VIEWS.filter((v) => !reached.has(v)).map((v) => ({ key: `view/${v}`, id: null, title: `${VIEW_TITLES[v]} view`, hint: "", said: "look camera", run: () => look(v) })),
    ...kinds.map((k) => ({ key: `kind/${k.word}`, id: k.word, title: k.title, hint: k.takes.length === 0 ? "on the part" : `on ${k.takes.join(", ")}`, said: SYNONYMS[k.word] ?? "", where: k.takes.length === 0 ? "Whole part ▾" : "More ▾", run: () => void startKind(k) })),
    ...(state.build?.document.parts ?? []).map((p) => ({
      key: `part/${p.id}`,
      id: null,
      title: p.name,
      hint: "part",
      said: "",
      run: () => void accept().then(() => editor.set({ current: p.id ?? null, pick: null })),
    })),
    ...(part?.steps ?? []).map((s) => ({
      key: `step/${s.id}`,
      id: null,
      title: s.label ?? kindOf(state, s.kind)?.title ?? s.kind,
      hint: `step of ${part?.name ?? ""}`,
      said: "",
      run: () => void accept().then(() => editor.set({ openStep: s.id ?? null })),
    })),
  ];
}

/** Pairs of letters that follow each other. */
function pairs(text: string): Set<string> {
  return new Set(Array.from({ length: Math.max(text.length - 1, 0) }, (_, i) => text.slice(i, i + 2)));
}

/** Those whose words are most like a text that is none of them (S. Dice, Ecology 26(3), 1945). */
function nearest(text: string, all: readonly Found[]): Found[] {
  const own = pairs(text);
  const like = (word: string) => {
    const other = pairs(word);
    return (2 * [...own].filter((p) => other.has(p)).length) / Math.max(own.size + other.size, 1);
  };
  const rated = all.map((f) => ({ f, rate: Math.max(...`${f.title} ${f.said}`.toLowerCase().split(/\s+/).map(like)) }));
  return rated.filter((r) => r.rate > 0.3).sort((a, b) => b.rate - a.rate).slice(0, 5).map((r) => r.f);
}

/** Find a tool, a part or a step by a few letters. */
export function FindDialog({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const favourites = usePrefs((p) => p.favourites);
  const input = useRef<InputRef>(null);
  const all = useMemo(() => (open ? everything() : []), [open]);
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = useMemo(() => (open ? new Set(fitting(editor.get()).map((k) => k.word)) : new Set<string>()), [open]);
  // what is called so comes before what has it in its name; of those what works on the present pick
  const rank = (f: Found) => (f.title.toLowerCase() === text.trim().toLowerCase() ? -2 : f.title.toLowerCase().startsWith(text.toLowerCase()) ? 0 : f.title.toLowerCase().split(/\s+/).some((w) => w.startsWith(words[0] ?? "")) ? 2 : 4) - (f.id !== null && fits.has(f.id) ? 1 : 0);
  const exact = all.filter((f) => words.every((w) => `${f.title} ${f.hint}`.toLowerCase().includes(w))).sort((a, b) => rank(a) - rank(b));
  const said = all.filter((f) => !exact.includes(f) && words.every((w) => `${f.title} ${f.said}`.toLowerCase().split(/\s+/).some((s) => s.startsWith(w))));
  const near = exact.length + said.length > 0 || words.length === 0 ? [] : nearest(text.toLowerCase(), all);
  const found = [...exact, ...said, ...near].slice(0, 12);

  useEffect(() => {
    if (!open) return;
    setText("");
    setAt(0);
    const soon = setTimeout(() => input.current?.focus(), 0);
    // the dialog's own frame takes the focus for a moment: letters typed then are for the field too
    const meant = (e: KeyboardEvent) => {
      if (e.target instanceof HTMLInputElement || e.key.length !== 1 || e.ctrlKey || e.metaKey || e.altKey) return;
      e.preventDefault();
      e.stopPropagation();
      setText((t) => t + e.key);
      input.current?.focus({ cursor: "end" });
    };
    window.addEventListener("keydown", meant, true);
    return () => {
      clearTimeout(soon);
      window.removeEventListener("keydown", meant, true);
    };
  }, [open]);

  const run = (item: Found | undefined) => {
    if (item === undefined) return;
    flushSync(onClose); // at once, and the keys to the view: what is pressed next may come before anything else
    focusView();
    item.run();
    setTimeout(backToView);
  };

  return (
    <Modal open={open} onCancel={onClose} footer={null} closable={false} title={null} width={420} style={{ top: 60 }} destroyOnHidden>
      <Input
        ref={input}
        autoFocus // from its first frame on: letters typed at once are for it
        aria-label="Find a tool, part or step"
        placeholder="Find a tool, part or step"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Escape") onClose();
          else if (e.key === "Enter") run(found[at]);
          else if (e.key === "ArrowDown") setAt(Math.min(at + 1, found.length - 1));
          else if (e.key === "ArrowUp") setAt(Math.max(at - 1, 0));
          else return;
          e.preventDefault();
        }}
      />
      {near.length > 0 && <p className="muted">Nothing is called that; nearest to it:</p>}
      <ul className="found" role="listbox" aria-label="Found">
        {found.map((f, i) => (
          <li key={f.key} role="option" aria-selected={i === at}>
            <button type="button" tabIndex={-1} className={i === at ? "here" : ""} onMouseEnter={() => setAt(i)} onClick={() => run(f)}>
              {f.title} <span>{[f.where, f.hint].filter(Boolean).join(" · ")}</span>
            </button>
            {f.id !== null && (
              <button type="button" tabIndex={-1} className={favourites.includes(f.id) ? "star here" : "star"} aria-label={`${favourites.includes(f.id) ? "Take out of" : "Keep among"} the favourites: ${f.title}`} aria-pressed={favourites.includes(f.id)} onClick={() => toggleFavourite(f.id as string)}>
                <Icon name="star" size={15} />
              </button>
            )}
          </li>
        ))}
      </ul>
      {found.length === 0 && <p className="muted">Nothing is called that. Try a tool such as extrude, or a part's name.</p>}
    </Modal>
  );
}
