import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Empty, Input, Modal, Switch } from "antd";
import { useEffect, useRef, useState } from "react";

import { answer, api } from "../../api/client";
import { backToView } from "../../interaction/focus";
import { ownSize, putIn } from "../../interaction/parts/fromStock";
import { sought, type StockItem, useStock } from "../../model/session/shelf";
import { partOf, partsOf, unitOf, useEditor } from "../../model/store";
import { shown } from "../../model/units";
import { settleFields } from "../../sync/expression";
import { NumberField } from "../fields/NumberField";
import { useFirstField } from "../fields/useFirstField";

/** The shelf: looked through by words, one thing chosen, put onto the picked face or to the origin. */
export function StockDialog() {
  const unit = useEditor(unitOf);
  const onFace = useEditor((s) => s.pick?.kind === "faces" && s.pick.elements.length === 1);
  const under = useEditor((s) => partOf(s, s.pick?.part ?? null)?.name ?? "");
  const [follows, follow] = useState(false);
  const parts = useEditor(partsOf);
  const put = useStock((s) => s.put);
  const cache = useQueryClient();
  const first = useFirstField();
  const shelf = useQuery({ queryKey: ["stock"], queryFn: () => answer(api.GET("/api/stock")), refetchOnMount: "always" });
  const [text, setText] = useState("");
  const [chosen, choose] = useState<string | null>(null);
  const [size, setSize] = useState<number | null>(null);
  const [linked, link] = useState(false);
  const [busy, setBusy] = useState(false);
  const latest = useRef<number | null>(null);
  const items = sought(shelf.data?.items as readonly StockItem[] | undefined ?? [], text);
  const item = items.find((i) => i.id === chosen) ?? items[0] ?? null;
  const here = item !== null && (put[item.id] ?? []).length > 0 && (put[item.id] ?? []).every((id) => parts.some((p) => p.id === id));
  const close = () => {
    useStock.setState({ open: false });
    setTimeout(backToView);
  };
  useEffect(() => {
    latest.current = null;
    setSize(null);
  }, [item?.id]);

  const take = async () => {
    if (item === null || busy) return;
    setBusy(true);
    await settleFields();
    const by = latest.current === null ? 1 : latest.current / ownSize(item);
    if (await putIn(item, by, linked && here, follows && onFace)) close();
    setBusy(false);
  };
  const drop = async (id: string) => {
    await answer(api.DELETE("/api/stock/{item}", { params: { path: { item: id } } }));
    await cache.invalidateQueries({ queryKey: ["stock"] });
  };
  const step = (by: number) => {
    const at = items.findIndex((i) => i.id === item?.id);
    choose(items[Math.min(Math.max(at + by, 0), items.length - 1)]?.id ?? null);
  };

  return (
    <Modal
      open
      title="Stock"
      width={640}
      afterOpenChange={first.afterOpenChange}
      onCancel={close}
      footer={
        <>
          <Button onClick={close}>Cancel</Button>
          <Button type="primary" loading={busy} disabled={item === null} onClick={() => void take()}>
            {item === null ? "Put in" : `Put in ${item.name.toLowerCase()}`}
          </Button>
        </>
      }
    >
      <div className="stock">
        <Input
          ref={first.ref}
          allowClear
          aria-label="Find in stock"
          placeholder="Find by name or tag"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            const by = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: 5, ArrowUp: -5 }[e.key];
            if (by !== undefined && (text === "" || e.key === "ArrowDown" || e.key === "ArrowUp")) {
              e.preventDefault();
              step(by);
            } else if (e.key === "Enter") void take();
          }}
        />
        <div className="shelf" role="listbox" aria-label="On the shelf">
          {items.map((i) => (
            <button key={i.id} type="button" role="option" aria-selected={i.id === item?.id} className={i.id === item?.id ? "thing here" : "thing"} title={i.tags.join(", ")} onClick={() => choose(i.id)} onDoubleClick={() => void take()}>
              <img src={`/api/stock/${i.id}/picture`} alt="" width={104} height={104} />
              <span className="ellipsis">{i.name}</span>
            </button>
          ))}
          {items.length === 0 && !shelf.isLoading && <Empty description="Nothing of that kind. Keep one: the menu of a part or group in the list has Keep in stock." />}
        </div>
        {item !== null && (
          <div className="chosen">
            <strong>{item.name}</strong>
            <span className="muted">{item.size.map((m) => shown(Number((m / (ownMetres(item) / ownSize(item))).toPrecision(3)))).join(" × ")} {unit}</span>
            <label className="field">
              largest
              <NumberField label="Size it is put in at" unit={unit} width={100} value={size ?? ownSize(item)} onTry={(v) => { latest.current = Math.abs(v) || null; setSize(Math.abs(v) || null); }} onCommit={(v) => { latest.current = Math.abs(v) || null; setSize(Math.abs(v) || null); }} />
            </label>
            <label className="field">
              linked
              <Switch size="small" aria-label="Linked to the one that is here" disabled={!here} checked={linked && here} onChange={link} />
            </label>
            <label className="field" title={onFace ? `It goes into a group with ${under} and moves with that` : "Pick the face of a part first, which it stands on then"}>
              {onFace ? <span className="ellipsis" style={{ maxWidth: 150 }}>moves with {under}</span> : "moves with the part"}
              <Switch size="small" aria-label="Moves with the part it stands on" disabled={!onFace} checked={follows && onFace} onChange={follow} />
            </label>
            {item.own && <Button size="small" danger onClick={() => void drop(item.id)}>off the shelf</Button>}
          </div>
        )}
        <p className="muted">{onFace ? "It is put onto the picked face, its up along the face's normal." : "It is put at the origin; pick a face first, and it stands on that."}</p>
      </div>
    </Modal>
  );
}

function ownMetres(item: StockItem): number {
  return Math.max(...item.size);
}
