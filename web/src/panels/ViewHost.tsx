import { Button, Segmented, Tooltip } from "antd";
import { useEffect, useRef, useState, type DragEvent } from "react";
import { Vector3 } from "three";

import type { View } from "../api/client";
import { partOf, unitOf, useEditor, type ViewName } from "../state/store";
import { look, onFrame } from "../tools/keys";
import { focusView, registerView } from "../tools/valueField";
import { Viewport } from "../viewport/Viewport";
import { FLAT_VIEWS, VIEW_TITLES } from "../viewport/views";
import { Icon } from "./Icon";
import { NewPartForm } from "./NewPartForm";
import { counted } from "./NumberField";

declare global {
  interface Window {
    /** where points of the build are on the page, for whoever drives the page from outside */
    rhytonic?: { project(point: [number, number, number]): [number, number] };
  }
}

/** The sheet: one view, its title, and the title block. */
export function ViewHost({ onPicture }: { readonly onPicture: (file: File, view: View) => void }) {
  const host = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const overlay = useRef<HTMLCanvasElement>(null);
  const viewport = useRef<Viewport | null>(null);
  const view = useEditor((s) => s.view);
  const build = useEditor((s) => s.build);
  const [over, setOver] = useState(false);

  useEffect(() => {
    if (host.current === null || canvas.current === null || overlay.current === null) return;
    const made = new Viewport(host.current, canvas.current, overlay.current);
    viewport.current = made;
    registerView(overlay.current);
    onFrame(() => made.frame());
    window.rhytonic = {
      project: (point) => {
        const at = made.camera.project(new Vector3(...point));
        const box = overlay.current?.getBoundingClientRect();
        return [at.x + (box?.left ?? 0), at.y + (box?.top ?? 0)];
      },
    };
    return () => {
      made.dispose();
      registerView(null);
      delete window.rhytonic;
    };
  }, []);

  const drop = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    const file = e.dataTransfer.files[0];
    if (file) onPicture(file, view === "perspective" ? "front" : view);
  };
  const lookFrom = (to: ViewName) => {
    look(to);
    focusView();
  };
  const empty = build !== null && (build.document.parts?.length ?? 0) === 0;
  return (
    <div
      className={over ? "sheet over" : "sheet"}
      ref={host}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <canvas ref={canvas} aria-hidden />
      <canvas ref={overlay} tabIndex={0} aria-label={`${VIEW_TITLES[view]} view of the model`} data-testid="view" className="overlay" />
      <div className="viewbar">
        <Segmented<ViewName> size="small" aria-label="View" value={view} onChange={lookFrom} options={(["perspective", ...FLAT_VIEWS] as ViewName[]).map((v) => ({ value: v, label: VIEW_TITLES[v] }))} />
        <Tooltip title="Show everything (A)">
          <Button size="small" type="text" aria-label="Show everything" icon={<Icon name="frame" size={16} />} onClick={() => { viewport.current?.frame(); focusView(); }} />
        </Tooltip>
      </div>
      <TitleBlock />
      {empty && (
        <div className="start">
          <h2>Start with a form about as big as the picture</h2>
          <NewPartForm />
          <p className="muted">… or drop a picture here first.</p>
        </div>
      )}
    </div>
  );
}

function TitleBlock() {
  const part = useEditor((s) => partOf(s, s.current));
  const unit = useEditor(unitOf);
  const faces = useEditor((s) => s.build?.parts.find((p) => p.id === s.current)?.faces ?? 0);
  const triangles = useEditor((s) =>
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
        <span>{counted(faces)} faces</span>
      </div>
      <svg width="34" height="20" viewBox="0 0 34 20" fill="none" stroke="currentColor" aria-label="third-angle projection">
        <path d="M3 6l10-3v14L3 14z" />
        <circle cx="25" cy="10" r="7" />
        <circle cx="25" cy="10" r="3" />
      </svg>
    </div>
  );
}
