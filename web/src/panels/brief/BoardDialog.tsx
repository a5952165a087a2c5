import { Button, Modal, Select } from "antd";
import { useEffect, useRef, useState } from "react";

import { sentence, type View } from "../../api/client";
import { bring } from "../../interaction/viewing";
import { ask, asking } from "../../model/session/asking";
import { addBoard, freeName } from "../../model/document/intents";
import { editor, METRES, unitOf, useEditor } from "../../model/store";
import { FLAT_VIEWS, VIEW_TITLES } from "../../model/views";
import { change, tell } from "../../sync/build";
import { upload } from "../../sync/pictures";
import { settleFields } from "../../sync/expression";
import { NumberField } from "../fields/NumberField";
import { useFirstField } from "../fields/useFirstField";

/** Asks how wide a dropped picture is in reality, and stands it in its view. */
export function BoardDialog({ file, view, onClose }: { readonly file: File; readonly view: View; readonly onClose: () => void }) {
  const unit = useEditor(unitOf);
  const [width, setWidth] = useState(Number((0.3 / METRES[unit]).toPrecision(3)));
  const latest = useRef(width);
  const first = useFirstField();
  const put = (v: number) => {
    latest.current = v;
    setWidth(v);
  };
  const [side, setSide] = useState<View>(view);
  const [busy, setBusy] = useState(false);
  const [preview, setPreview] = useState<string | null>(null);

  useEffect(() => {
    const url = URL.createObjectURL(file);
    setPreview(url);
    return () => URL.revokeObjectURL(url);
  }, [file]);

  const add = async (scale: boolean) => {
    setBusy(true);
    await settleFields();
    try {
      const picture = await upload(file);
      const boards = editor.get().build?.document.boards ?? [];
      const name = file.name.replace(/\.[^.]*$/, "").slice(0, 100) || "Picture";
      const board = { id: freeName("board", boards.map((b) => b.id)), picture: picture.sha256, name, view: side, width: latest.current };
      if (await change("Add board", addBoard(board))) {
        bring(side);
        asking.set({ board: board.id });
        if (scale) ask({ kind: "scale", board: board.id, points: [] });
        onClose();
      }
    } catch (error) {
      tell(sentence(error));
    }
    setBusy(false);
  };

  return (
    <Modal open title="How wide is this picture in reality?" width={440} onCancel={onClose} afterOpenChange={first.afterOpenChange} footer={<>
      <Button onClick={onClose}>Cancel</Button>
      <Button disabled={busy} onClick={() => void add(true)}>Scale it by two points</Button>
      <Button type="primary" loading={busy} onClick={() => void add(false)}>Stand it up</Button>
    </>}>
      <div className="boarddialog">
        {preview !== null && <img src={preview} alt={file.name} />}
        <div>
          <label className="row">
            <span>width</span>
            <NumberField inputRef={first.ref} label="Picture width" unit={unit} width={120} value={width} onTry={put} onCommit={put} onEnter={() => void add(false)} />
          </label>
          <label className="row">
            <span>view</span>
            <Select<View> size="small" aria-label="Picture view" style={{ width: 120 }} value={side} onChange={setSide} options={FLAT_VIEWS.map((v) => ({ value: v, label: VIEW_TITLES[v] }))} />
          </label>
          <p className="muted">The whole picture, edge to edge. Its lower middle stands on the origin; it is locked and never in the way of picking.</p>
        </div>
      </div>
    </Modal>
  );
}
