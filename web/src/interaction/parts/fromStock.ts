import { Matrix4, Quaternion, Vector3 } from "three";

import { answer, api, type Part, sentence } from "../../api/client";
import { addFragment, type Fragment } from "../../model/document/fragment";
import { freeName, type Intent } from "../../model/document/intents";
import { after, type Key, memberOf } from "../../model/document/members";
import { type StockItem, useStock } from "../../model/session/shelf";
import { matrixAbove } from "../../model/places/frames";
import { placementOf } from "../../model/places/mirroring";
import { editor, groupsOf, METRES, partOf, type Triple, unitOf } from "../../model/store";
import { turning, turnsOf } from "../../model/places/turns";
import { askOf, change, tell } from "../../sync/build";
import { extentOf } from "../../sync/extent";
import { accept } from "../session/storing";

type Member = Record<string, unknown>;

interface Spot {
  readonly translate: Triple;
  readonly turn: Quaternion;
  /** what a length of the build is there */
  readonly scale?: number;
}

/** Where something goes that is put in: onto the picked face, its up along the face's normal, or to the origin. */
async function spot(): Promise<Spot> {
  const { pick } = editor.get();
  if (pick === null || pick.kind !== "faces" || pick.elements.length !== 1) return { translate: [0, 0, 0], turn: new Quaternion() };
  const reach = await extentOf(pick.part, pick, "build");
  if (reach === null) return { translate: [0, 0, 0], turn: new Quaternion() };
  const turn = new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), new Vector3(...(reach.normal as Triple)).normalize());
  return { translate: reach.mean.map((v) => Number(v.toFixed(7)) + 0) as Triple, turn };
}

function placed(member: Member, at: Spot, by: number): Member {
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
    const at = (m: Member) => (m === tops[0] ? put({ ...m, name }) : m);
    return { groups: fragment.groups.map(at), parts: fragment.parts.map(at) };
  }
  const own = "stock-root";
  const inside = (m: Member) => (m["group"] === undefined ? { ...m, group: own } : m);
  return { groups: [put({ id: own, name }), ...fragment.groups.map(inside)], parts: fragment.parts.map(inside) };
}

/** The same place as the axes of a part's group tell it. */
function within(at: Spot, host: Part): Spot {
  const state = editor.get();
  const metres = METRES[unitOf(state)];
  const there = new Matrix4().compose(new Vector3(...at.translate).multiplyScalar(metres), at.turn, new Vector3(1, 1, 1));
  const { translate, rotate, scale } = placementOf(matrixAbove(host, metres, groupsOf(state)).invert().multiply(there), metres);
  return { translate: translate as Triple, turn: turning(rotate as Triple), scale: (scale as Triple)[0] };
}

/** A group round a part, made where it is in none; what is put into that moves with the part. */
function groupRound(host: string, told: (group: string) => void): Intent {
  return (document) => {
    const at = document.parts?.findIndex((p) => p.id === host) ?? -1;
    const part = document.parts?.[at];
    if (part === undefined) return null;
    if (part.group != null) {
      told(part.group);
      return [];
    }
    const groups = document.groups ?? [];
    const id = freeName("group", groups.map((g) => g.id));
    told(id);
    const name = groups.some((g) => g.name === part.name) ? freeName(part.name, groups.map((g) => g.name), " ") : part.name;
    return [{ op: "add", path: "/groups", value: [...groups, { id, name }] }, { op: "add", path: `/parts/${at}/group`, value: id }];
  };
}

/** Put a thing of the shelf into the build: onto the picked face, `by` times its size; linked to what came of it before; in a group
 * with the part it stands on, which it follows then. */
export async function putIn(item: StockItem, by: number, linked: boolean, follows = false): Promise<boolean> {
  await accept();
  const state = editor.get();
  try {
    const { groups, parts } = await answer(api.GET("/api/stock/{item}/parts", { params: { path: { item: item.id }, query: { to: unitOf(state) } } }));
    const before = useStock.getState().put[item.id] ?? [];
    const links = linked && before.length === parts.length && before.every((id) => partOf(editor.get(), id) !== null);
    const own = links
      ? parts.map((p, i) => ({ ...Object.fromEntries(Object.entries(p as Member).filter(([k]) => ["id", "name", "group", "placement", "pivot", "joint"].includes(k))), of: before[i] }))
      : (parts as Member[]);
    const host = follows && state.pick !== null ? partOf(editor.get(), state.pick.part) : null;
    const spotted = await spot();
    const at = host === null ? spotted : within(spotted, host);
    let inside: string | null = null;
    const fragment = () => rooted({ groups: groups as Member[], parts: own }, item.name, (m) => ({ ...placed(m, at, by * (at.scale ?? 1)), ...(inside === null ? {} : { group: inside }) }));
    let made: string[] = [];
    let top: Key | null = null;
    const put: Intent = (document, kinds) =>
      addFragment(fragment(), (now) => {
        made = now.parts.map((p) => String(p["id"]));
        const group = now.groups.find((g) => (g["group"] ?? null) === inside);
        top = group === undefined ? `p:${made[0]}` : `g:${String(group["id"])}`;
      })(document, kinds);
    const round = host === null ? null : groupRound(host.id ?? "", (group) => { inside = group; });
    const fine = await change(`Put in ${item.name}`, round === null ? put : after(round, put));
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
