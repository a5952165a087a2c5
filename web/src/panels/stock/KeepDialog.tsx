import { useQueryClient } from "@tanstack/react-query";
import { Button, Input, Modal, Select } from "antd";
import { useState } from "react";

import { backToView } from "../../interaction/focus";
import { keepInStock } from "../../interaction/parts/fromStock";
import { type Key, memberOf } from "../../model/document/members";
import { useStock } from "../../model/session/shelf";
import { editor } from "../../model/store";
import { useFirstField } from "../fields/useFirstField";

/** A part or group on its way to the shelf: its name and tags. */
export function KeepDialog({ member }: { readonly member: Key }) {
  const [name, setName] = useState(memberOf(editor.get(), member)?.name ?? "");
  const [tags, setTags] = useState<string[]>([]);
  const [busy, setBusy] = useState(false);
  const cache = useQueryClient();
  const first = useFirstField();
  const close = () => {
    useStock.setState({ keeping: null });
    setTimeout(backToView);
  };
  const keep = async () => {
    if (busy || name.trim() === "") return;
    setBusy(true);
    if (await keepInStock(member, name.trim(), tags)) {
      await cache.invalidateQueries({ queryKey: ["stock"] });
      close();
    }
    setBusy(false);
  };
  return (
    <Modal
      open
      title="Keep in stock"
      width={380}
      afterOpenChange={first.afterOpenChange}
      onCancel={close}
      footer={
        <>
          <Button onClick={close}>Cancel</Button>
          <Button type="primary" loading={busy} onClick={() => void keep()}>
            Keep
          </Button>
        </>
      }
    >
      <label className="row">
        <span>name</span>
        <Input size="small" ref={first.ref} aria-label="Name on the shelf" style={{ width: 220 }} maxLength={200} value={name} onFocus={(e) => e.target.select()} onChange={(e) => setName(e.target.value)} onPressEnter={() => void keep()} />
      </label>
      <label className="row">
        <span>tags</span>
        <Select mode="tags" size="small" aria-label="Tags on the shelf" style={{ width: 220 }} open={false} suffixIcon={null} tokenSeparators={[",", " "]} value={tags} onChange={setTags} />
      </label>
      <p className="muted">It is kept with its whole recipe and its picture, and can be put into any build.</p>
    </Modal>
  );
}
