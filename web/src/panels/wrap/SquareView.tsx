import { Button } from "antd";
import { useEffect, useRef, useState } from "react";

import type { MeshData } from "../../api/packets";
import { backToView } from "../../interaction/focus";
import { keepExtent } from "../../interaction/viewing";
import { raisePicture } from "../../interaction/wrap/raise";
import { knobOf, SquareHand } from "../../interaction/wrap/SquareHand";
import { editor, type EditorState, partsOf, useEditor } from "../../model/store";
import { sharing } from "../../model/wrap/sharing";
import { useLaid } from "../../model/wrap/layout";
import { fetchLayout } from "../../sync/layout";
import { token } from "../../theme/theme";
import { Square } from "../../viewport/square/Square";
import { Icon } from "../fields/Icon";
import { Tip } from "../fields/Tip";

/** The cage of the part at hand, as a trial shows it. */
function meshOf(s: EditorState) {
  const held = s.current === null ? null : (s.meshes[s.current]?.mesh.cage ?? null);
  const trial = s.session?.part === s.current && s.preview !== null ? s.preview.cage : null;
  return trial !== null && held !== null && trial.shape.digest === held.shape.digest ? trial : held;
}

/** Whether a trial may lay the part out otherwise than the core told: pieces that are moved and turned stay what they are. */
function isStale({ session, preview }: EditorState): boolean {
  if (session === null || preview === null) return false;
  const { flip, scale, density } = session.values;
  return session.tool !== "uv_transform" || flip !== "none" || density !== undefined || !Array.isArray(scale) || scale.some((v) => v !== 1);
}

/** Cages of the parts that share the square with the one at hand. */
function othersOf(s: EditorState): readonly MeshData[] {
  const parts = partsOf(s);
  const part = parts.find((p) => p.id === s.current);
  return part === undefined ? [] : sharing(part, parts).flatMap((id) => (id === s.current ? [] : [s.meshes[id]?.mesh.cage ?? []].flat()));
}

/** The texture square: one more drawing on the sheet, with the same picks. */
export function SquareView() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const square = useRef<Square | null>(null);
  const paint = useRef<() => void>(() => undefined);
  const mesh = useEditor(meshOf);
  const current = useEditor((s) => s.current);
  const key = useEditor((s) => (s.current === null ? "" : (s.meshes[s.current]?.key ?? "")));
  const pick = useEditor((s) => s.pick);
  const trial = useEditor((s) => s.session !== null && s.preview !== null);
  const night = useEditor((s) => s.night);
  const laid = useLaid();
  const [over, setOver] = useState(false);
  const layout = laid.part === current ? laid.layout : null;

  useEffect(() => {
    if (current !== null && key !== "") void fetchLayout(current);
  }, [current, key]);

  useEffect(() => {
    const surface = canvas.current;
    if (surface === null) return;
    const made = new Square(surface);
    square.current = made;
    let waits = 0;
    const redraw = () => {
      if (waits === 0) waits = requestAnimationFrame(() => { waits = 0; paint.current(); });
    };
    const hand = new SquareHand(surface, made, () => meshOf(editor.get()), redraw);
    paint.current = () => {
      const s = editor.get();
      const { part, layout: told, shows } = useLaid.getState();
      const shown = meshOf(s);
      const picked = s.pick !== null && s.pick.part === s.current ? s.pick : null;
      made.draw({ mesh: shown, others: othersOf(s), layout: part === s.current ? told : null, kind: picked?.kind ?? "faces", picked: picked?.elements ?? [], shows, trial: s.session !== null && s.preview !== null, stale: isStale(s) });
      const pen = surface.getContext("2d");
      if (pen === null || shown === null) return;
      const knob = picked?.kind === "faces" ? knobOf(shown, picked.elements, made) : null;
      pen.strokeStyle = token("pick");
      pen.lineWidth = 2;
      if (knob !== null) {
        pen.beginPath();
        pen.arc(knob[0], knob[1], 6, 0, 2 * Math.PI);
        pen.fillStyle = token("panel");
        pen.fill();
        pen.stroke();
      }
      if (hand.box !== null) {
        pen.lineWidth = 1;
        pen.setLineDash([4, 3]);
        pen.strokeRect(...hand.box);
        pen.setLineDash([]);
      }
    };
    const sized = new ResizeObserver(() => {
      made.resize(surface.clientWidth, surface.clientHeight);
      redraw();
    });
    sized.observe(surface);
    if (window.rhytonic !== undefined) {
      window.rhytonic.square = (u, v) => {
        const [x, y] = made.toPage([u, v]);
        const box = surface.getBoundingClientRect();
        return [x + box.left, y + box.top];
      };
      window.rhytonic.places = () => [...(meshOf(editor.get())?.uv ?? [])];
    }
    keepExtent(); // the views have half the room now, and all of it again once this is left
    return () => {
      keepExtent();
      sized.disconnect();
      hand.dispose();
      cancelAnimationFrame(waits);
      square.current = null;
    };
  }, []);

  const meshes = useEditor((s) => s.meshes); // others may share the square
  useEffect(() => paint.current(), [mesh, meshes, pick, layout, laid.shows, trial, night]);

  const figures = layout?.figures ?? null;
  return (
    <section
      className={over ? "sheet square over" : "sheet square"}
      aria-label="The texture square"
      onDragOver={(e) => {
        if (!e.dataTransfer.types.includes("Files")) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        const file = e.dataTransfer.files[0];
        if (file) void raisePicture(file).then(backToView);
      }}
    >
      <canvas ref={canvas} className="overlay" data-testid="square" aria-label="The texture square: the pieces of the part, with the same pick as the views" />
      <div className="squarebar">
        <strong>Layout</strong>
        <span>{figures === null ? "" : `${figures.resolution} px · ${figures.density.mean.toPrecision(3)} px/cm`}</span>
        <span className="grow">{laid.under}</span>
        <Tip title={laid.alone ? "Beside the views" : "The square alone"}>
          <Button size="small" type="text" aria-label="The square alone" aria-pressed={laid.alone} icon={<Icon name="alone" size={14} />} onClick={() => { useLaid.setState({ alone: !laid.alone }); backToView(); }} />
        </Tip>
        <Tip title="Show the whole square">
          <Button size="small" type="text" aria-label="Show the whole square" icon={<Icon name="frame" size={16} />} onClick={() => { square.current?.whole(); paint.current(); }} />
        </Tip>
      </div>
      {mesh !== null && mesh.uv === null && <p className="squarehint">Nothing lies here yet. Unwrap the part, or project it: the pieces are cut at seams and laid flat.</p>}
    </section>
  );
}
