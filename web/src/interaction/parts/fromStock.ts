import { Quaternion, Vector3 } from "three";

import { answer, api, sentence } from "../../api/client";
import { addFragment, type Fragment } from "../../model/document/fragment";
import { type Key, memberOf } from "../../model/document/members";
import { type StockItem, useStock } from "../../model/session/shelf";
import { editor, METRES, partOf, type Triple, unitOf } from "../../model/store";
import { turning, turnsOf } from "../../model/places/turns";
import { askOf, change, tell } from "../../sync/build";
import { extentOf } from "../../sync/extent";
import { accept } from "../session/storing";

type Member = Record<string, unknown>;

/** Where something goes that is put in: onto the picked face, its up along the face's normal, or to the origin. */
async function spot(): Promise<{ translate: Triple; turn: Quaternion }> {
  const { pick } = editor.get();
  if (pick === null || pick.kind !== "faces" || pick.elements.length !== 1) return { translate: [0, 0, 0], turn: new Quaternion() };
  const reach = await extentOf(pick.part, pick, "build");
  if (reach === null) return { translate: [0, 0, 0], turn: new Quaternion() };
  const turn = new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), new Vector3(...(reach.normal as Triple)).normalize());
  return { translate: reach.mean.map((v) => Number(v.toFixed(7)) + 0) as Triple, turn };
}

function placed(member: Member, at: { translate: Triple; turn: Quaternion }, by: number): Member {
  const held = (member["placement"] ?? {}) as { rotate?: Triple; scale?: Triple };
  const rotate = turnsOf(at.turn.clone().multiply(turning(held.rotate ?? [0, 0, 0])));
  const scale = (held.scale ?? [1, 1, 1]).map((v) => Number((v * by).toPrecision(9))) as Triple;
  const placement = { ...(at.translate.some((v) => v !== 0) ? { translate: at.translate } : {}), ...(rotate.some((v) => v !== 0) ? { rotate } : {}), ...(scale.some((v) => v !== 1) ? { scale } : {}) };
  const { placement: _, ...rest } = member;
  return Object.keys(placement).length === 0 ? rest : { ...rest, placement };
}

/** The fragment with its one outermost part or group put somewhere; several are put into a group of the item's name first. */
function rooted(fragment: Fragment, name: string, put: (member: Member) => Member): Fragment {
  const tops = [...fragment.groups, ...fragment.parts].filter((m) => m["group"] === undefined);
  if (tops.length === 1) {
    const at = (m: Member) => (m === tops[0] ? put(m) : m);
    return { groups: fragment.groups.map(at), parts: fragment.parts.map(at) };
  }
  const own = "stock-root";
  const inside = (m: Member) => (m["group"] === undefined ? { ...m, group: own } : m);
  return { groups: [put({ id: own, name }), ...fragment.groups.map(inside)], parts: fragment.parts.map(inside) };
}

/** Put a thing of the shelf into the build: onto the picked face, `by` times its size; linked to what came of it before. */
export async function putIn(item: StockItem, by: number, linked: boolean): Promise<boolean> {
  await accept();
  const state = editor.get();
  try {
    const { groups, parts } = await answer(api.GET("/api/stock/{item}/parts", { params: { path: { item: item.id }, query: { to: unitOf(state) } } }));
    const before = useStock.getState().put[item.id] ?? [];
    const links = linked && before.length === parts.length && before.every((id) => partOf(editor.get(), id) !== null);
    const own = links
      ? parts.map((p, i) => ({ ...Object.fromEntries(Object.entries(p as Member).filter(([k]) => ["id", "name", "group", "placement", "pivot", "joint"].includes(k))), of: before[i] }))
      : (parts as Member[]);
    const at = await spot();
    const fragment = rooted({ groups: groups as Member[], parts: own }, item.name, (m) => placed(m, at, by));
    let made: string[] = [];
    let top: Key | null = null;
    const fine = await change(
      `Put in ${item.name}`,
      addFragment(fragment, (now) => {
        made = now.parts.map((p) => String(p["id"]));
        const group = now.groups.find((g) => g["group"] === undefined);
        top = group === undefined ? `p:${made[0]}` : `g:${String(group["id"])}`;
      }),
    );
    if (!fine) return false;
    useStock.setState({ put: { ...useStock.getState().put, ...(links ? {} : { [item.id]: made }) } });
    editor.set({ current: made[made.length - 1] ?? null, pick: null, openStep: null });
    editor.set({ chosen: top === null ? [] : [top] });
    return true;
  } catch (error) {
    tell(sentence(error));
    return false;
  }
}

/** Keep a part or group on the shelf. */
export async function keepInStock(key: Key, name: string, tags: readonly string[]): Promise<boolean> {
  await accept();
  const { build } = editor.get();
  if (build === null || memberOf(editor.get(), key) === null) return false;
  try {
    await askOf((of) => answer(api.POST("/api/stock", { body: { build: of.id, revision: of.revision, member: key, name, tags: [...tags] } })));
    return true;
  } catch (error) {
    tell(sentence(error));
    return false;
  }
}

/** A length of an item in the build's unit. */
export function ownSize(item: StockItem): number {
  return Number((Math.max(...item.size) / METRES[unitOf(editor.get())]).toPrecision(4));
}
