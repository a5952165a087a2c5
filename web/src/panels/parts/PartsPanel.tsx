import { Input } from "antd";
import { useMemo, useRef, useState } from "react";

import { chooseMember, moveChosen } from "../../interaction/parts/wholes";
import { chosenOf, groupKey, type Key, partKey } from "../../model/document/members";
import { partTree } from "../../model/document/parts";
import { useStock } from "../../model/session/shelf";
import { editor, groupsOf, partsOf, useEditor } from "../../model/store";
import { GroupRow } from "./GroupRow";
import { MemberMenu } from "./MemberMenu";
import { PartRow } from "./PartRow";
import { Drop } from "../fields/Drop";

/** From so many parts on they are found by their names. */
const MANY = 10;
const NONE: ReadonlySet<string> = new Set();

/** Parts and groups with their triangle counts: chosen alone or together, seen or hidden, locked or free, dragged about. */
export function PartsPanel({ onAdd }: { readonly onAdd: () => void }) {
  const parts = useEditor(partsOf);
  const fetched = useEditor((s) => s.build !== null);
  const groups = useEditor(groupsOf);
  const isolated = useEditor((s) => s.isolated);
  const chosen = useEditor((s) => s.chosen);
  const current = useEditor((s) => s.current);
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [renaming, setRenaming] = useState<Key | null>(null);
  const [menu, setMenu] = useState<Key | null>(null);
  const [over, setOver] = useState<Key | null>(null);
  const list = useRef<HTMLUListElement>(null);
  const [sought, seek] = useState("");
  const words = parts.length >= MANY ? sought.trim().toLowerCase() : "";
  const rows = useMemo(() => (words === "" ? partTree(parts, groups, folded) : partTree(parts, groups, NONE).filter((row) => ("group" in row ? row.group : row.part).name.toLowerCase().includes(words))), [parts, groups, folded, words]);
  const order = rows.map((row) => ("group" in row ? groupKey(row.group) : partKey(row.part)));
  const here = new Set(chosen.length > 0 ? chosen : current === null ? [] : [`p:${current}`]);

  const fold = (id: string, open: boolean) => {
    const next = new Set(folded);
    if (open) next.delete(id);
    else next.add(id);
    setFolded(next);
  };
  const keyAt = (target: EventTarget): Key | null => (target instanceof Element ? (target.closest<HTMLElement>("li[data-key]")?.dataset["key"] ?? null) : null);
  const focusOn = (key: Key | undefined) => list.current?.querySelector<HTMLElement>(`li[data-key="${CSS.escape(key ?? "")}"] .name`)?.focus();

  /** Back to the row it was opened on, unless a field or a dialog came of it. */
  const closeMenu = () => {
    const key = menu;
    setMenu(null);
    setTimeout(() => {
      const { activeElement } = document;
      if (activeElement === null || activeElement === document.body || activeElement.closest(".ant-dropdown") !== null) focusOn(key ?? undefined);
    }, 50);
  };

  const choose = (key: Key, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void chooseMember(key, e.shiftKey ? "range" : e.ctrlKey || e.metaKey ? "toggle" : "alone", order);
  const groupOf = (key: Key) => (key.startsWith("p:") ? parts.find((p) => p.id === key.slice(2))?.group : groups.find((g) => g.id === key.slice(2))?.group) ?? null;

  const onKey = (e: React.KeyboardEvent) => {
    const key = keyAt(e.target);
    if (key === null || renaming !== null) return;
    const at = order.indexOf(key);
    const by = e.key === "ArrowDown" ? 1 : e.key === "ArrowUp" ? -1 : 0;
    if (by !== 0) {
      e.preventDefault();
      if (e.altKey) {
        // past the next one of its kind in the same group
        const siblings = order.filter((k) => k.slice(0, 2) === key.slice(0, 2) && groupOf(k) === groupOf(key));
        const to = siblings.indexOf(key) + by;
        if (to >= 0 && to < siblings.length) void moveChosen([key], groupOf(key), (by < 0 ? siblings[to] : siblings[to + 1]) ?? null).then(() => focusOn(key));
        return;
      }
      const next = order[at + by];
      if (next === undefined) return;
      focusOn(next);
      if (e.shiftKey) void chooseMember(next, "range", order);
    } else if (e.key === "F2") {
      e.preventDefault();
      setRenaming(key);
    }
    else if (key.startsWith("g:") && (e.key === "ArrowLeft" || e.key === "ArrowRight")) fold(key.slice(2), e.key === "ArrowRight");
  };

  const dropOn = (key: Key, e: React.DragEvent) => {
    setOver(null);
    const dragged = e.dataTransfer.getData("text/part");
    const keys = here.has(dragged) ? chosenOf(editor.get()) : [dragged];
    if (dragged === "" || keys.includes(key)) return;
    e.preventDefault();
    if (key.startsWith("g:")) void moveChosen(keys, key.slice(2), null);
    else {
      const box = (e.currentTarget as HTMLElement).getBoundingClientRect();
      const siblings = order.filter((k) => k.startsWith("p:") && groupOf(k) === groupOf(key));
      const before = e.clientY < box.top + box.height / 2 ? key : (siblings[siblings.indexOf(key) + 1] ?? null);
      void moveChosen(keys, groupOf(key), before);
    }
  };
  const dragging = (key: Key) => ({
    onDragStart: (e: React.DragEvent) => {
      e.dataTransfer.setData("text/part", key);
      e.dataTransfer.effectAllowed = "move";
    },
    onDragOver: (e: React.DragEvent) => {
      if (!e.dataTransfer.types.includes("text/part")) return;
      e.preventDefault();
      if (over !== key) setOver(key);
    },
    onDragLeave: () => setOver(null),
    onDrop: (e: React.DragEvent) => dropOn(key, e),
  });

  return (
    <section className="parts" aria-label="Parts">
      <h2>
        Parts
        <span>
          <button type="button" className="link" onClick={() => useStock.setState({ open: true })}>
            Stock
          </button>{" "}
          <button type="button" className="link" onClick={onAdd}>
            + Part
          </button>
        </span>
      </h2>
      {isolated !== null && (
        <p className="muted isolated">
          {isolated.length === 1 ? "One part alone." : "Some parts alone."}{" "}
          <button type="button" className="link" onClick={() => editor.set({ isolated: null })}>
            Show all
          </button>
        </p>
      )}
      {!fetched && <p className="muted" role="status">Fetching the build …</p>}
      {fetched && parts.length === 0 && <p className="teach">No part yet. Start from a base form of about the right size: <button type="button" className="link" onClick={onAdd}>a first part</button>.</p>}
      {parts.length >= MANY && <Input size="small" allowClear aria-label="Find a part" placeholder="Find a part" value={sought} onChange={(e) => seek(e.target.value)} onKeyDown={(e) => e.key === "Escape" && seek("")} />}
      {rows.length === 0 && words !== "" && <p className="muted" role="status">No part is called that</p>}
      <Drop trigger={["contextMenu"]} open={menu !== null} onOpenChange={(open) => !open && closeMenu()} popupRender={() => (menu === null ? null : <MemberMenu member={menu} onRename={setRenaming} onDone={closeMenu} />)}>
        <ul
          ref={list}
          aria-label="Parts and groups"
          onKeyDown={onKey}
          onContextMenu={(e) => {
            const key = keyAt(e.target);
            if (key === null) return e.stopPropagation();
            setMenu(key);
          }}
        >
          {rows.map((row, i) => {
            const key = order[i] as Key;
            const shared = { depth: row.depth, here: here.has(key), leads: chosen[chosen.length - 1] === key, over: over === key, renaming: renaming === key, onRenaming: (on: boolean) => setRenaming(on ? key : null), onChoose: (e: React.MouseEvent) => choose(key, e), drag: dragging(key) };
            return "group" in row ? <GroupRow key={key} group={row.group} open={!folded.has(row.group.id)} onOpen={(open) => fold(row.group.id, open)} {...shared} /> : <PartRow key={key} part={row.part} {...shared} />;
          })}
        </ul>
      </Drop>
    </section>
  );
}
