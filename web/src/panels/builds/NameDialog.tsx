import { Input, Modal } from "antd";
import { type ReactNode, useState } from "react";

import { useFirstField } from "../fields/useFirstField";

interface Props {
  readonly title: string;
  readonly label: string;
  readonly first?: string;
  readonly placeholder?: string;
  readonly okText: string;
  readonly busy?: boolean;
  readonly onDone: (name: string) => void;
  readonly onClose: () => void;
  /** what else is asked below the name */
  readonly children?: ReactNode;
}

/** A dialog that asks for a name: it can be typed at once, Enter does it. Rendered while it is open. */
export function NameDialog({ title, label, first = "", placeholder, okText, busy = false, onDone, onClose, children }: Props) {
  const [name, setName] = useState(first);
  const [lacking, setLacking] = useState(false);
  const field = useFirstField();
  const done = () => {
    if (name.trim() === "") setLacking(true);
    else onDone(name.trim());
  };
  return (
    <Modal open title={title} width={360} okText={okText} confirmLoading={busy} onOk={done} onCancel={onClose} afterOpenChange={field.afterOpenChange}>
      <label className="row">
        <span>{label}</span>
        <Input
          ref={field.ref}
          aria-label={label}
          style={{ width: 230 }}
          maxLength={200}
          placeholder={placeholder ?? ""}
          value={name}
          status={lacking ? "error" : ""}
          onChange={(e) => {
            setName(e.target.value);
            setLacking(false);
          }}
          onPressEnter={done}
        />
      </label>
      {/* always there: the button below stays where it is */}
      <p className="fault oneline" role="alert">{lacking ? "A name to find it by" : ""}</p>
      {children}
    </Modal>
  );
}
