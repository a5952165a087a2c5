import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Alert, App, Button, Input, Segmented, Select, Spin } from "antd";
import { useState } from "react";

import { answer, api, type BuildSummary, sentence, type Unit } from "../../api/client";
import { useEditor } from "../../model/store";
import { BuildLine } from "./BuildLine";
import { NameDialog } from "./NameDialog";
import { Drop } from "../fields/Drop";

const UNITS: readonly { value: Unit; label: string }[] = [
  { value: "cm", label: "centimetres" },
  { value: "mm", label: "millimetres" },
  { value: "m", label: "metres" },
  { value: "in", label: "inches" },
  { value: "ft", label: "feet" },
];

/** From so many builds on they are searched and ordered. */
const MANY = 6;
const ORDERS = [
  { value: "changed", label: "Last changed" },
  { value: "name", label: "A to Z" },
  { value: "parts", label: "Most parts" },
] as const;
type Order = (typeof ORDERS)[number]["value"];

/** The server tells the last changed first. */
function ordered(builds: readonly BuildSummary[], by: Order): BuildSummary[] {
  if (by === "name") return [...builds].sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }));
  return by === "parts" ? [...builds].sort((a, b) => b.parts - a.parts) : [...builds];
}

/** All builds: open, make, rename, duplicate, delete with undo. */
export function BuildList({ onOpen }: { readonly onOpen: (id: string) => void }) {
  const { notification, message } = App.useApp();
  const save = useEditor((s) => s.save);
  const cache = useQueryClient();
  const builds = useQuery({ queryKey: ["builds"], queryFn: () => answer(api.GET("/api/builds")), refetchOnMount: "always" });
  const [unit, setUnit] = useState<Unit>("cm");
  const [making, setMaking] = useState(false);
  const [renaming, setRenaming] = useState<BuildSummary | null>(null);
  const [sought, setSought] = useState("");
  const [order, setOrder] = useState<Order>("changed");
  const all = builds.data?.builds ?? [];
  const shown = ordered(all.filter((b) => b.name.toLowerCase().includes(sought.trim().toLowerCase())), order);
  const fresh = () => cache.invalidateQueries({ queryKey: ["builds"] });
  const failed = (error: unknown) => void message.warning(sentence(error));
  const at = (id: string) => ({ params: { path: { build_id: id } } });

  const make = useMutation({
    mutationFn: (body: { name: string; unit: Unit }) => answer(api.POST("/api/builds", { body })),
    onSuccess: (build) => onOpen(build.id),
    onError: failed,
  });
  const duplicate = useMutation({
    mutationFn: (id: string) => answer(api.POST("/api/builds/{build_id}/duplicate", at(id))),
    onSuccess: fresh,
    onError: failed,
  });
  const restore = useMutation({
    mutationFn: (id: string) => answer(api.POST("/api/builds/{build_id}/restore", at(id))),
    onSuccess: fresh,
    onError: failed,
  });
  const rename = useMutation({
    mutationFn: (b: { id: string; revision: number; name: string }) =>
      answer(api.POST("/api/builds/{build_id}/changes", { ...at(b.id), body: { revision: b.revision, label: "Rename build", key: crypto.randomUUID(), patch: [{ op: "add", path: "/name", value: b.name }] } })),
    onSuccess: fresh,
    onError: failed,
  });
  const remove = useMutation({
    mutationFn: async (b: BuildSummary) => {
      await answer(api.DELETE("/api/builds/{build_id}", at(b.id)));
      return b;
    },
    onSuccess: async (b) => {
      await fresh();
      const key = `deleted-${b.id}`;
      notification.info({
        key,
        title: `“${b.name}” is off the list`,
        duration: 15,
        placement: "bottomLeft",
        actions: <Button onClick={() => { restore.mutate(b.id); notification.destroy(key); }}>Undo</Button>,
      });
    },
    onError: failed,
  });

  return (
    <div className="home">
      <header>
        <span className="wordmark large">
          <img src="/mark.svg" alt="" width={30} height={30} /> Rhytonic
        </span>
        <Button type="primary" size="large" onClick={() => setMaking(true)}>
          New build
        </Button>
      </header>
      {save.kind === "waiting" && <Alert type="warning" role="alert" title={save.message} />}
      <h1>Builds</h1>
      {builds.isPending && <Spin />}
      {builds.isError && <Alert type="warning" showIcon title={sentence(builds.error)} action={<Button onClick={() => void builds.refetch()}>Try again</Button>} />}
      {builds.data?.builds.length === 0 && <p className="teach">No build yet. A build holds the parts, pictures and sizes of one piece of work.</p>}
      {all.length >= MANY && (
        <div className="seek">
          <Input aria-label="Find a build" placeholder="Find a build" allowClear value={sought} onChange={(e) => setSought(e.target.value)} />
          <Segmented<Order> aria-label="Order of builds" value={order} onChange={setOrder} options={[...ORDERS]} />
        </div>
      )}
      {all.length > 0 && shown.length === 0 && <p className="teach">No build is called “{sought}”.</p>}
      <ul className="buildlist">
        {shown.map((b) => (
          <li key={b.id}>
            <BuildLine build={b} onOpen={() => onOpen(b.id)} />
            <Drop
              trigger={["click"]}
              menu={{
                items: [
                  { key: "rename", label: "Rename", onClick: () => setRenaming(b) },
                  { key: "copy", label: "Duplicate", onClick: () => duplicate.mutate(b.id) },
                  { key: "delete", label: "Delete", danger: true, onClick: () => remove.mutate(b) },
                ],
              }}
            >
              <Button type="text" aria-label={`More for ${b.name}`}>•••</Button>
            </Drop>
          </li>
        ))}
      </ul>
      {making && (
        <NameDialog title="New build" label="Name" okText="Make build" busy={make.isPending} onDone={(name) => make.mutate({ name, unit })} onClose={() => setMaking(false)}>
          <label className="row">
            <span>lengths in</span>
            <Select<Unit> aria-label="Lengths in" style={{ width: 230 }} value={unit} onChange={setUnit} options={[...UNITS]} />
          </label>
        </NameDialog>
      )}
      {renaming !== null && (
        <NameDialog
          title="Rename build"
          label="Name"
          first={renaming.name}
          okText="Rename"
          onDone={(name) => {
            rename.mutate({ id: renaming.id, revision: renaming.revision, name });
            setRenaming(null);
          }}
          onClose={() => setRenaming(null)}
        />
      )}
    </div>
  );
}
