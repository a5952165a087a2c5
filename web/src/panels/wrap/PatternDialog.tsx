import { Button, Input, Modal, Select } from "antd";
import { useState } from "react";

import { type Layer, type Pattern, sentence } from "../../api/client";
import { setPattern } from "../../model/document/intents";
import { partsOf, unitOf, useEditor } from "../../model/store";
import { patternPicture } from "../../model/wrap/layout";
import { change, tell } from "../../sync/build";
import { upload } from "../../sync/pictures";
import { Corners } from "../fields/Corners";
import { NameField } from "../fields/NameField";
import { NumberField } from "../fields/NumberField";
import { Icon } from "../fields/Icon";
import { PictureChoice } from "../fields/PictureChoice";
import { useFirstField } from "../fields/useFirstField";

type Shape = Layer["shape"];
type Number_ = "radius" | "corner" | "pitch" | "width" | "inset" | "height" | "soft" | "turn";

/** Shapes, what each is called, and which of its numbers it has beside place, height and edge. */
const SHAPES: Readonly<Record<Exclude<Shape, "picture">, { readonly title: string; readonly has: readonly Number_[]; readonly sized: "never" | "always" | "may" }>> = {
  stripes: { title: "stripes", has: ["pitch", "width"], sized: "may" },
  grid: { title: "grid", has: ["pitch", "width"], sized: "may" },
  dots: { title: "dots", has: ["pitch", "radius"], sized: "may" },
  knurl: { title: "knurl", has: ["pitch"], sized: "may" },
  tread: { title: "tread", has: ["pitch", "width"], sized: "may" },
  rect: { title: "rectangle", has: [], sized: "always" },
  round_rect: { title: "rounded rectangle", has: ["corner"], sized: "always" },
  circle: { title: "circle", has: ["radius"], sized: "never" },
  polygon: { title: "polygon", has: [], sized: "never" },
  text: { title: "text", has: [], sized: "always" },
  island: { title: "outline of pieces", has: ["inset"], sized: "never" },
};
const BLENDS = [{ value: "max", label: "highest" }, { value: "min", label: "lowest" }, { value: "add", label: "added" }, { value: "set", label: "in place" }] as const;
const LENGTHS = new Set<Number_>(["radius", "corner", "pitch", "width", "inset", "soft"]);

/** A new layer of a shape, in proportion to its pattern. */
function fresh(shape: Shape, pattern: Pattern, part: string): Layer {
  const [w, h] = pattern.size as [number, number];
  const some = (share: number) => Number((Math.min(w, h) * share).toPrecision(2));
  const of: Partial<Record<Shape, object>> = {
    stripes: { pitch: some(0.2), width: some(0.1) }, grid: { pitch: some(0.25), width: some(0.04) }, dots: { pitch: some(0.2), radius: some(0.06) }, knurl: { pitch: some(0.1) },
    tread: { pitch: some(0.2), width: some(0.05) }, rect: { at: [some(0.25), some(0.25)], size: [some(0.5), some(0.5)] }, round_rect: { at: [some(0.25), some(0.25)], size: [some(0.5), some(0.5)], corner: some(0.1) },
    polygon: { points: [[some(0.2), some(0.2)], [some(0.8), some(0.2)], [some(0.5), some(0.8)]] },
    circle: { at: [w / 2, h / 2], radius: some(0.25) }, text: { at: [some(0.15), some(0.35)], size: [some(0.7), some(0.3)], text: "No. 7" }, island: { part, inset: some(0.03) },
  };
  return { shape, ...of[shape] } as Layer;
}

/** The pattern maker: a pattern's size, and its layers one over the other; every change is stored and can be undone. */
export function PatternDialog({ pattern, onClose }: { readonly pattern: Pattern; readonly onClose: () => void }) {
  const build = useEditor((s) => s.build);
  const unit = useEditor(unitOf);
  const parts = useEditor(partsOf);
  const first = useFirstField();
  const [adding, setAdding] = useState<keyof typeof SHAPES>("stripes");
  const layers = pattern.layers ?? [];
  const put = (values: Partial<Pattern>, what: string) => void change(`${pattern.name}: ${what}`, setPattern(pattern.id, values), `pattern/${pattern.id}/${what}`);
  const setLayer = (at: number, values: Record<string, unknown>, what: string) =>
    put({ layers: layers.map((l, i) => (i !== at ? l : (Object.fromEntries(Object.entries({ ...l, ...values }).filter(([, v]) => v !== undefined)) as unknown as Layer))) }, `${what} ${at + 1}`);
  const [w, h] = pattern.size as [number, number];
  const addPicture = async (file: File) => {
    try {
      const { sha256 } = await upload(file);
      put({ layers: [...layers, { shape: "picture", digest: sha256, at: [0, 0], size: [w, h] } as Layer] }, "a layer more");
    } catch (error) {
      tell(sentence(error));
    }
  };
  return (
    <Modal open title="Pattern" width={760} footer={<Button type="primary" onClick={onClose}>Done</Button>} onCancel={onClose} afterOpenChange={first.afterOpenChange}>
      <div className="patternmaker">
        <div>
          <img className="patternpicture" alt={`${pattern.name} as it is drawn, white highest`} src={build === null ? "" : patternPicture(build.id, pattern.id, build.revision, 512)} style={{ aspectRatio: `${w} / ${h}` }} />
          <div className="row"><span>name</span><NameField key={pattern.name} label="name" value={pattern.name} onCommit={(name) => name !== pattern.name && put({ name }, "name")} /></div>
          <div className="row">
            <span>size</span>
            <span className="triple">
              {[w, h].map((v, i) => (
                <NumberField key={i} label={i === 0 ? "pattern width" : "pattern height"} unit={unit} width={84} {...(i === 0 ? { inputRef: first.ref } : {})} value={v} onCommit={(n) => n > 0 && n !== v && put({ size: i === 0 ? [n, h] : [w, n] }, "size")} />
              ))}
            </span>
          </div>
          <div className="row"><span>pixels to the cm</span><NumberField label="pixels to the centimetre" unit={null} width={84} value={pattern.resolution} onCommit={(n) => n > 0 && n !== pattern.resolution && put({ resolution: n }, "resolution")} /></div>
          <p className="muted small">The pattern lies on the whole texture square. White is raised by the relief’s height.</p>
          {build !== null && <Button size="small" href={`/api/builds/${build.id}/patterns/${encodeURIComponent(pattern.id)}/picture`} download={`${pattern.name}.png`}>PNG, 16 bits</Button>}
        </div>
        <div className="layers">
          {layers.map((layer, at) => (
            <LayerRow key={at} layer={layer} number={at + 1} count={layers.length} parts={parts.map((p) => p.name)} onSet={(values, what) => setLayer(at, values, what)}
              onForm={(shape) => put({ layers: layers.map((l, i) => (i === at ? { ...fresh(shape, pattern, parts[0]?.name ?? ""), height: l.height ?? 1 } : l)) }, `shape ${at + 1}`)}
              onRemove={() => put({ layers: layers.filter((_, i) => i !== at).map((l) => (l.clip == null || l.clip < at ? l : { ...l, clip: l.clip === at ? undefined : l.clip - 1 }) as Layer) }, "a layer less")}
            />
          ))}
          <div className="wraprow">
            <Select size="small" aria-label="shape of a new layer" value={adding} style={{ width: 150 }} options={Object.entries(SHAPES).map(([value, s]) => ({ value: value as keyof typeof SHAPES, label: s.title }))} onChange={setAdding} />
            <Button size="small" onClick={() => put({ layers: [...layers, fresh(adding, pattern, parts[0]?.name ?? "")] }, "a layer more")}>Add layer</Button>
            <PictureChoice label="A picture as a layer" onPicture={(file) => void addPicture(file)}>or a picture</PictureChoice>
          </div>
        </div>
      </div>
    </Modal>
  );
}

interface LayerProps {
  readonly layer: Layer;
  readonly number: number;
  readonly count: number;
  readonly parts: readonly string[];
  readonly onSet: (values: Record<string, unknown>, what: string) => void;
  readonly onForm: (shape: Shape) => void;
  readonly onRemove: () => void;
}

function LayerRow({ layer, number, parts, onSet, onForm, onRemove }: LayerProps) {
  const unit = useEditor(unitOf);
  const about = layer.shape in SHAPES ? SHAPES[layer.shape as keyof typeof SHAPES] : null;
  const at = (layer.at ?? [0, 0]) as [number, number];
  const size = layer.size as [number, number] | null | undefined;
  const plain = (name: Number_, value: number, title: string = name) => (
    <label className="layerfield" key={name}>
      {title}
      <NumberField label={`layer ${number} ${title}`} unit={LENGTHS.has(name) ? unit : null} {...(name === "turn" ? { suffix: "°" } : {})} width={72} value={value} onCommit={(n) => n !== value && onSet({ [name]: n }, title)} />
    </label>
  );
  return (
    <fieldset className="layer">
      <legend>{number}</legend>
      <div className="wraprow">
        {about === null ? <strong>{layer.shape}</strong> : (
          <Select size="small" aria-label={`layer ${number} shape`} value={layer.shape as keyof typeof SHAPES} style={{ width: 140 }} options={Object.entries(SHAPES).map(([value, s]) => ({ value: value as keyof typeof SHAPES, label: s.title }))} onChange={onForm} />
        )}
        <Select size="small" aria-label={`layer ${number} over those below`} value={layer.blend ?? "max"} style={{ width: 92 }} options={[...BLENDS]} onChange={(blend) => onSet({ blend }, "blend")} />
        {number > 1 && (
          <Select size="small" aria-label={`layer ${number} kept inside`} value={layer.clip ?? -1} style={{ width: 104 }} options={[{ value: -1, label: "everywhere" }, ...Array.from({ length: number - 1 }, (_, i) => ({ value: i, label: `inside ${i + 1}` }))]} onChange={(clip) => onSet({ clip: clip < 0 ? undefined : clip }, "clip")} />
        )}
        <span className="grow" />
        <Button size="small" type="text" aria-label={`Remove layer ${number}`} icon={<Icon name="bin" size={15} />} onClick={onRemove} />
      </div>
      <div className="layerfields">
        {layer.shape === "text" && (
          <label className="layerfield">text<Input size="small" aria-label={`layer ${number} text`} style={{ width: 120 }} defaultValue={layer.text ?? ""} key={layer.text} maxLength={200} onBlur={(e) => e.target.value.trim() !== "" && e.target.value !== layer.text && onSet({ text: e.target.value }, "text")} onPressEnter={(e) => (e.target as HTMLInputElement).blur()} /></label>
        )}
        {layer.shape === "polygon" && <Corners label={`layer ${number} corners`} points={(layer.points ?? []) as readonly (readonly [number, number])[]} onSet={(points) => onSet({ points }, "corners")} />}
        {layer.shape === "island" && (
          <label className="layerfield">part<Select size="small" aria-label={`layer ${number} part`} value={layer.part ?? ""} style={{ width: 120 }} options={parts.map((p) => ({ value: p, label: p }))} onChange={(part) => onSet({ part }, "part")} /></label>
        )}
        {about?.has.map((name) => plain(name, Number(layer[name as keyof Layer] ?? 0)))}
        {layer.shape !== "island" && [0, 1].map((k) => (
          <label className="layerfield" key={`at${k}`}>
            {k === 0 ? "from left" : "from below"}
            <NumberField label={`layer ${number} ${k === 0 ? "from left" : "from below"}`} unit={unit} width={72} value={at[k] as number} onCommit={(n) => n !== at[k] && onSet({ at: k === 0 ? [n, at[1]] : [at[0], n] }, "place")} />
          </label>
        ))}
        {size != null && [0, 1].map((k) => (
          <label className="layerfield" key={`size${k}`}>
            {k === 0 ? "wide" : "tall"}
            <NumberField label={`layer ${number} ${k === 0 ? "wide" : "tall"}`} unit={unit} width={72} value={size[k] as number} onCommit={(n) => n > 0 && n !== size[k] && onSet({ size: k === 0 ? [n, size[1]] : [size[0], n] }, "size")} />
          </label>
        ))}
        {plain("turn", layer.turn ?? 0)}
        {plain("height", layer.height ?? 1)}
        {plain("soft", layer.soft ?? 0, "soft edge")}
      </div>
    </fieldset>
  );
}
