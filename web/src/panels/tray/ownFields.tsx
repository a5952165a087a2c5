import { Button, type InputRef, Select, Switch } from "antd";
import { type ComponentType, type Ref, useMemo } from "react";

import type { ParameterValue } from "../../api/client";

import { backToView, focusView } from "../../interaction/focus";
import { cancel, finish, store } from "../../interaction/session/storing";
import { dropValue, keepLeft, tryValues } from "../../interaction/session/trial";
import { isCurve, othersFor } from "../../model/document/parts";
import { HOLDS, heldAt, offsetFor } from "../../model/steps/profile";
import { editor, METRES, type ToolSession, unitOf, useEditor, type Value, type Values } from "../../model/store";
import { NumberField } from "../fields/NumberField";
import { PartSelect } from "../fields/PartSelect";
import { type Profile, ProfileField } from "../fields/ProfileField";
import { Tip } from "../fields/Tip";
import { BendFields } from "./BendFields";
import { BrushFields } from "./BrushFields";
import { FollowFields } from "./FollowFields";
import { LatticeFields } from "./LatticeFields";
import { MirrorFields } from "./MirrorFields";
import { RangeFields } from "./RangeFields";
import { Riders } from "./Riders";

/** Fields that some kinds of step have beside those of their parameters. */
interface OwnFields {
  readonly Fields?: ComponentType<FieldsProps>;
  /** whether they stand in place of the parameters' */
  readonly hides?: (values: Values) => boolean;
  /** whether they say by themselves what they are of */
  readonly untitled?: boolean;
  /** whether they stand behind those of the parameters */
  readonly last?: boolean;
  /** whether they choose the other part too */
  readonly whole?: boolean;
  /** what says nothing beside the others as they are */
  readonly idle?: (values: Values) => readonly string[];
  /** what is worth a place on the card only */
  readonly leaves?: readonly string[] | ((values: Values) => readonly string[]);
}

interface FieldsProps {
  readonly session: ToolSession;
  readonly inputRef: Ref<InputRef> | undefined;
}

const OWN: Readonly<Record<string, OwnFields>> = {
  sweep: { Fields: SweptProfile, leaves: ["scale", "twist", "up", "turn", "mirrored", "cap"] },
  // by distance, count and spread say nothing
  insert_loop: { Fields: LoopPlaces, hides: (values) => values["distance"] !== undefined },
  cut: { Fields: CutPoints },
  weld: { Fields: WeldWay, hides: (values) => values["to"] !== undefined },
  array: { Fields: ArrayWay, leaves: ["turn", "scale", "weld"] },
  brush: { Fields: BrushFields, hides: () => true, untitled: true },
  lattice: { Fields: LatticeFields, hides: () => true },
  bend: { Fields: BendFields, hides: () => true },
  twist: { Fields: Ranged, last: true },
  taper: { Fields: Ranged, last: true },
  stretch: { Fields: Riders, last: true },
  bead: { leaves: ["seed", "sides"] },
  // a plane of its own has no place along an axis
  flatten: { idle: (values) => (values["to"] === "best" ? ["at", "by"] : []) },
  mirror: { Fields: MirrorFields, last: true },
  // pieces that are to agree are not moved meanwhile
  uv_transform: { leaves: (values) => ["about", ...agreeing(values)] },
  pack: { leaves: ["turn"] },
  relief: { leaves: ["blur"] },
  follow: { Fields: FollowFields, hides: () => true, whole: true },
};

/** What moving pieces leaves out of the row: what makes them agree, else what moves them. */
function agreeing({ align = "none", density }: Values): readonly string[] {
  if (align === "none" && density === undefined) return ["align", "density"];
  return ["move", "turn", "scale", "flip", align === "none" ? "align" : "density"];
}

const NONE: OwnFields = {};

/** From where to where, and what follows. */
function Ranged({ session }: FieldsProps) {
  return (
    <span className="fields">
      <RangeFields session={session} />
      <Riders session={session} />
    </span>
  );
}

export function ownFieldsOf(word: string): OwnFields {
  return OWN[word] ?? NONE;
}

function CutPoints({ session }: FieldsProps) {
  const path = session.values["path"];
  return Array.isArray(path) ? <span className="muted">{path.length} points</span> : null;
}

const WELDS = [
  { value: "distance", label: "what is nearer than" },
  { value: "to", label: "onto the last picked" },
] as const;

/** Points that stand near each other are joined, or all that are picked go onto the one clicked last. */
function WeldWay({ session }: FieldsProps) {
  const clicked = useEditor((s) => s.clicked);
  const last = clicked !== null && session.pickIds.includes(clicked) ? clicked : null;
  const onto = session.values["to"] !== undefined;
  const put = (way: (typeof WELDS)[number]["value"]) => {
    if (way === "to" && last !== null) dropValue("distance", { to: { ids: [last] } });
    if (way === "distance") dropValue("to", { distance: (session.left["distance"] ?? session.initial["distance"]) as Value });
    focusView();
  };
  const without = last === null && !onto;
  return (
    <span className="fields">
      <Select size="small" aria-label="what is welded" popupMatchSelectWidth={false} value={onto ? "to" : "distance"} options={WELDS.map((w) => ({ ...w, ...(w.value === "to" && without ? { disabled: true, title: "click the vertex that the others go onto last, by itself or with Shift" } : {}) }))} onChange={put} />
    </span>
  );
}

function SweptProfile({ session, inputRef }: FieldsProps) {
  const held = session.values["profile"] as Profile;
  const kindOf = (p: Profile) => (typeof p === "string" ? p : Object.keys(p)[0]);
  const put = (profile: Profile) => {
    tryValues({ profile: profile as Value }, false);
    // another kind of profile is tried first, a number is meant
    if (kindOf(profile) === kindOf(held) || session.stored !== null) void store();
  };
  const at = ((Number(session.values["turn"] ?? 0) % 360) + 360) % 360;
  const told = heldAt(editor.get(), session.values);
  const next = HOLDS[(told === null ? 0 : HOLDS.indexOf(told) + 1) % HOLDS.length] as (typeof HOLDS)[number];
  // turned or mirrored, it is held where it was
  const holding = (values: Values): Values => (told === null || told === "as drawn" ? values : { ...values, offset: offsetFor(editor.get(), { ...session.values, ...values }, told) });
  const place = (values: Values) => {
    tryValues(values, false);
    void store().then(backToView);
  };
  // a profile is never the right way round at first
  return (
    <span className="fields">
      <ProfileField part={session.part} value={held} inputRef={inputRef} onTry={(p) => tryValues({ profile: p as Value }, true)} onCommit={put} onCancel={cancel} onEnter={finish} onLeave={focusView} />
      <Tip title={`The path holds the profile ${told === null ? "where it is moved to" : `by ${told === "as drawn" ? "its origin, as drawn" : `its ${told}`}`}; on to the next`}>
        <Button size="small" aria-label="Move the origin of the profile on" onClick={() => place({ offset: offsetFor(editor.get(), session.values, next) })}>
          {told === null ? "moved" : told === "as drawn" ? told : `by ${told}`}
        </Button>
      </Tip>
      <Tip title="Turn the profile by a quarter">
        <Button size="small" aria-label="Turn the profile by 90 degrees" onClick={() => place(holding({ turn: (at + 90) % 360 }))}>
          90° ↺
        </Button>
      </Tip>
      <Button size="small" aria-label="Mirror the profile" aria-pressed={session.values["mirrored"] === true} className={session.values["mirrored"] === true ? "on" : ""} onClick={() => place(holding({ mirrored: session.values["mirrored"] !== true }))}>
        mirror
      </Button>
    </span>
  );
}

const WAYS = ["step", "span", "round x", "round y", "round z", "along"] as const;
type Way = (typeof WAYS)[number];

const WAY_WORDS: Partial<Record<Way, string>> = { span: "span: first to last", along: "along a curve" };

interface Round {
  readonly axis?: string | readonly number[];
  readonly at?: readonly number[];
  readonly angle?: number;
}

interface Along {
  readonly part: string;
  readonly align?: boolean;
}

const ALONG_PART: ParameterValue = { name: "part", title: "the curve to go along", quantity: "part", count: 1, choices: [], default: null, required: true, least: null, most: null };

/** How copies stand: so far from one to the next, evenly up to the last, round an axis, or along a curve. */
function ArrayWay({ session }: FieldsProps) {
  const { values } = session;
  const build = useEditor((s) => s.build);
  const kinds = useEditor((s) => s.kinds);
  const curves = useMemo(() => othersFor({ build, kinds }, session.part).filter((p) => isCurve(p, build?.document.parts ?? [], kinds)), [build, kinds, session.part]);
  const round = values["around"] as Round | undefined;
  const along = values["along"] as Along | undefined;
  const way: Way = along !== undefined ? "along" : round !== undefined ? (`round ${typeof round.axis === "string" ? round.axis : "y"}` as Way) : values["span"] !== undefined ? "span" : "step";
  const count = Math.max(Number(values["count"]) - 1, 1);
  const turnTo = (next: Way) => {
    if (next === way) return;
    // what was typed in one way holds in the next: a step as so much of a span, and both when copies no longer go round
    const before = { ...session.initial, ...session.left, ...values };
    const spans = way === "span" || (way !== "step" && session.left["span"] !== undefined);
    const straight = ((spans ? before["span"] : before["step"]) ?? [0, 0, 0]) as readonly number[];
    const times = next === "span" ? (spans ? 1 : count) : spans ? 1 / count : 1;
    const instead: Values = next === "along" ? { along: (before["along"] ?? { part: curves[0]?.id ?? "" }) as Value } : next.startsWith("round") ? { around: { angle: 360, ...(before["around"] as Round | undefined), axis: next.slice(-1) } } : { [next]: straight.map((v) => Number((v * times).toPrecision(9))) };
    dropValue(way.startsWith("round") ? "around" : way, instead);
    focusView();
  };
  const put = (next: Along) => {
    tryValues({ along: { ...next } }, false);
    if (session.stored !== null) void store();
  };
  return (
    <span className="fields">
      <Select size="small" aria-label="how the copies stand" popupMatchSelectWidth={false} value={way} options={WAYS.map((w) => ({ value: w, label: WAY_WORDS[w] ?? w, ...(w === "along" && curves.length === 0 ? { disabled: true, title: "there is no curve yet: make one by New part, Arc, Circle or Rectangle" } : {}) }))} onChange={turnTo} />
      {along !== undefined && (
        <>
          <PartSelect curves part={session.part} parameter={ALONG_PART} value={along.part} onChange={(v) => { put({ ...along, part: String(v) }); focusView(); }} />
          <span className="field">
            turning with it
            <Switch size="small" aria-label="turning with the curve" checked={along.align ?? true} onChange={(align) => { put({ ...along, align }); focusView(); }} />
          </span>
        </>
      )}
      {round !== undefined && (
        <NumberField
          label="angle"
          unit={null}
          suffix="°"
          width={74}
          value={round.angle ?? 360}
          onTry={(angle) => tryValues({ around: { ...round, angle } }, true)}
          onCommit={(angle) => {
            tryValues({ around: { ...round, angle } }, false);
            void store();
          }}
          onCancel={cancel}
          onEnter={finish}
          onLeave={focusView}
        />
      )}
    </span>
  );
}

const PLACES = [
  { value: "spread", label: "spread evenly" },
  { value: "lower", label: "from the lower end" },
  { value: "upper", label: "from the upper end" },
  { value: "both", label: "from both ends" },
] as const;
type Place = (typeof PLACES)[number]["value"];
/** What tells loops that are spread, and has no say where they stand at a distance. */
const SPREAD = ["count", "spread", "shift"];

function pickKeys(values: Values, names: readonly string[]): Values {
  return Object.fromEntries(Object.entries(values).filter(([name]) => names.includes(name)));
}

function distances(place: Place, d: number): number[] {
  return place === "both" ? [d, -d] : place === "upper" ? [-d] : [d];
}

/** Support loops: at a fixed distance from an end of the edge, or spread over it. */
function LoopPlaces({ session, inputRef }: FieldsProps) {
  const unit = useEditor(unitOf);
  const held = session.values["distance"] as readonly number[] | undefined;
  const before = session.left["distance"] as readonly number[] | undefined;
  const place: Place = held === undefined ? "spread" : held.length > 1 ? "both" : (held[0] as number) < 0 ? "upper" : "lower";
  const d = Math.abs(held?.[0] ?? before?.[0] ?? Number((0.01 / METRES[unit]).toPrecision(3)));
  const put = (next: Place, size: number, dragging = false) => {
    // what is not seen any more is as it was at first: nothing hidden can be refused. It comes back with its way of standing
    const unseen = pickKeys(session.initial, SPREAD);
    if (next === "spread") dropValue("distance", pickKeys(session.left, SPREAD));
    else {
      if (place === "spread") keepLeft(pickKeys(session.values, SPREAD));
      tryValues({ ...unseen, distance: distances(next, size) }, dragging);
    }
  };
  return (
    <span className="fields">
      <Select size="small" aria-label="where the loops stand" popupMatchSelectWidth={false} value={place} options={PLACES.map((p) => ({ ...p }))} onChange={(v: Place) => { put(v, d); focusView(); }} />
      {place !== "spread" && (
        <NumberField
          {...(inputRef !== undefined ? { inputRef } : {})}
          label="distance"
          unit={unit}
          suffix={unit}
          width={80}
          value={d}
          onTry={(v) => put(place, Math.abs(v), true)}
          onCommit={(v) => {
            put(place, Math.abs(v));
            void store();
          }}
          onCancel={cancel}
          onEnter={finish}
          onLeave={focusView}
        />
      )}
    </span>
  );
}
