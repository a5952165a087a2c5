import { type DragEvent, useEffect, useRef, useState } from "react";
import { Vector3 } from "three";

import type { View } from "../../api/client";
import { registerView } from "../../interaction/focus";
import { registerBasis } from "../../interaction/keys/nudge";
import { registerViews } from "../../interaction/viewing";
import { useCalm } from "../../model/session/calm";
import { usePrefs } from "../../model/prefs";
import { editor, METRES, partOf, unitOf, useEditor, type ViewName } from "../../model/store";
import { counted, shownUnit } from "../../model/units";
import { VIEW_TITLES } from "../../model/views";
import { Viewport } from "../../viewport/Viewport";
import { clearWay } from "../../viewport/clearWay";
import { Broken } from "./Broken";
import { PictureChoice } from "../fields/PictureChoice";
import { NewPartForm } from "../form/NewPartForm";
import { PaneBars } from "./PaneBars";

declare global {
  interface Window {
    /** what is where on the page, for whoever drives the page from outside; nothing here acts */
    rhytonic?: Inspection;
  }
}

interface Inspection {
  /** the id of the build that is shown */
  build(): string | null;
  /** where a point of the build, in metres, is on the page; in the view at work unless another is named */
  project(point: [number, number, number], view?: ViewName): [number, number];
  /** the views in sight and where they stand on the page */
  panes(): { view: ViewName; x: number; y: number; width: number; height: number }[];
  /** where a vertex, or the middle of an edge or face, of a part's cage is on the page */
  element(part: string, kind: "vertices" | "edges" | "faces", element: number, view?: ViewName): [number, number];
  /** where a place of the texture square is on the page, while that is in sight */
  square?: (u: number, v: number) => [number, number];
  /** the places of all corners on the texture square, while that is in sight: u and v, face after face */
  places?: () => number[];
  /** how often something was drawn since the page was opened */
  frames(): number;
}

/** The views: one or the sheet, what stands over them, and the title block. */
export function ViewHost({ onPicture }: { readonly onPicture: (file: File, view: View) => void }) {
  const host = useRef<HTMLDivElement>(null);
  const overlay = useRef<HTMLCanvasElement>(null);
  const viewport = useRef<Viewport | null>(null);
  const view = useEditor((s) => s.view);
  const layout = usePrefs((p) => p.layout);
  const build = useEditor((s) => s.build);
  const [over, setOver] = useState(false);

  useEffect(() => {
    if (host.current === null || overlay.current === null) return;
    const made = new Viewport(host.current, overlay.current);
    const surface = overlay.current;
    viewport.current = made;
    registerView(surface);
    registerBasis(() => made.pane.camera.basis());
    registerViews({
      frame: () => made.frame(),
      framePick: () => {
        const box = made.pickBounds();
        made.frame(box.isEmpty() ? undefined : box.expandByScalar(Math.max(box.getSize(new Vector3()).length() * 0.15, 1e-3)));
      },
      face: () => made.face(),
      keepExtent: () => made.keepExtent(),
      under: () => made.under,
      clearWay: (part, at, size, by) => {
        const shown = made.parts.get(part);
        return shown === undefined ? [1, 0, 0] : clearWay(made.pane, shown, at, size, by);
      },
      middle: (axis) => {
        const metres = METRES[unitOf(editor.get())];
        const box = made.bounds();
        return box.isEmpty() ? 0 : Number((box.getCenter(new Vector3()).getComponent(axis) / metres).toPrecision(4)) * metres;
      },
    });
    window.rhytonic = inspection(made, surface);
    return () => {
      made.dispose();
      registerView(null);
      registerViews(null);
      delete window.rhytonic;
    };
  }, []);

  const drop = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    const file = e.dataTransfer.files[0];
    const box = host.current?.getBoundingClientRect();
    const under = viewport.current?.sheet.locate(e.clientX - (box?.left ?? 0), e.clientY - (box?.top ?? 0)).pane.view ?? view;
    if (file) onPicture(file, under === "perspective" ? "front" : under);
  };
  const empty = build !== null && (build.document.parts?.length ?? 0) === 0;
  return (
    <div
      className={over ? "sheet over" : "sheet"}
      ref={host}
      onDragOver={(e) => {
        if (!e.dataTransfer.types.includes("Files")) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <canvas ref={overlay} tabIndex={0} aria-label={layout === "sheet" ? "The sheet: four views of the model" : `${VIEW_TITLES[view]} view of the model`} data-testid="view" className="overlay" />
      <PaneBars />
      <TitleBlock />
      <Broken />
      {empty && <Start onPicture={(file) => onPicture(file, view === "perspective" ? "front" : view)} />}
    </div>
  );
}

/** An empty build offers a form; the hint gives way once one is being drawn. */
function Start({ onPicture }: { readonly onPicture: (file: File) => void }) {
  const drawing = useEditor((s) => s.drawing !== null || s.path !== null);
  const boards = useEditor((s) => (s.build?.document.boards ?? []).length > 0);
  if (drawing || boards) return null; // the picture is worked with first; forms stand in their panel
  return (
    <div className="start">
      <h2>Start with a form of about the right size</h2>
      <NewPartForm start />
      <p className="muted">
        … or <PictureChoice label="First picture" onPicture={onPicture}>a picture first</PictureChoice>, chosen or dropped here.
      </p>
    </div>
  );
}

function inspection(made: Viewport, surface: HTMLElement): Inspection {
  const onPage = (point: Vector3, view?: ViewName): [number, number] => {
    const pane = made.sheet.of(view ?? editor.get().view);
    const at = pane.camera.project(point);
    const box = surface.getBoundingClientRect();
    return [at.x + pane.x + box.left, at.y + pane.y + box.top];
  };
  return {
    build: () => editor.get().build?.id ?? null,
    project: (point, view) => onPage(new Vector3(...point), view),
    panes: () => {
      const box = surface.getBoundingClientRect();
      return made.sheet.shown.map((p) => ({ view: p.view, x: p.x + box.left, y: p.y + box.top, width: p.camera.width, height: p.camera.height }));
    },
    element: (part, kind, element, view) => {
      const held = made.parts.get(part);
      const mesh = held?.mesh?.cage;
      if (held === undefined || mesh === undefined) return [Number.NaN, Number.NaN];
      const { edges, offsets, corners } = mesh.shape;
      const vertices = kind === "vertices" ? [element] : kind === "edges" ? [edges[2 * element]!, edges[2 * element + 1]!] : [...corners.subarray(offsets[element], offsets[element + 1])];
      const at = new Vector3();
      for (const v of vertices) at.addScaledVector(new Vector3().fromArray(mesh.positions, 3 * v), 1 / vertices.length);
      return onPage(at.applyMatrix4(held.group.matrix), view);
    },
    frames: () => made.drawn,
  };
}

function TitleBlock() {
  const part = useEditor((s) => partOf(s, s.current));
  const unit = useEditor(shownUnit);
  const grid = usePrefs((p) => p.gridStep);
  const angle = usePrefs((p) => p.angleStep);
  const triangles = useCalm((s) =>
    s.preview !== null && s.session?.part === s.current ? s.preview.triangles : (s.build?.parts.find((p) => p.id === s.current)?.triangles ?? 0),
  );
  if (part === null) return null;
  return (
    <div className="titleblock">
      <div>
        <strong className="ellipsis">{part.name}</strong>
        <span>{counted(triangles)} triangles</span>
      </div>
      <div>
        <strong>{unit}</strong>
        <span>
          snap {Number((grid / METRES[unit]).toPrecision(4))}, {angle}°
        </span>
      </div>
      <svg width={34} height={22} viewBox="0 0 34 22" fill="none" stroke="currentColor" role="img" aria-label="Third-angle projection">
        <path d="M3 7l9-4v16l-9-4z" />
        <circle cx={24} cy={11} r={7} />
        <circle cx={24} cy={11} r={3.2} />
      </svg>
    </div>
  );
}
