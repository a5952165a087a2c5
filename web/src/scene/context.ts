/** A canvas to draw on, and whether the browser draws without a graphics card. */
export interface Drawn {
  readonly canvas: HTMLCanvasElement;
  readonly context: WebGL2RenderingContext;
  readonly software: boolean;
}

/**
 * Antialiasing doubles to triples what drawing costs by software, and is known to be wanted only once there is a context: so the
 * first is made without, and another where there is a card.
 *
 * @throws Error where the browser offers no WebGL 2
 */
export function makeContext(): Drawn {
  const first = make(false);
  const info = first.context.getExtension("WEBGL_debug_renderer_info");
  const name = info === null ? "" : String(first.context.getParameter(info.UNMASKED_RENDERER_WEBGL));
  if (/swiftshader|llvmpipe|software/i.test(name)) return { ...first, software: true };
  first.context.getExtension("WEBGL_lose_context")?.loseContext();
  return { ...make(true), software: false };
}

function make(antialias: boolean): { canvas: HTMLCanvasElement; context: WebGL2RenderingContext } {
  const canvas = document.createElement("canvas");
  // a drag may draw one view and leave the others standing
  const context = canvas.getContext("webgl2", { antialias, alpha: false, stencil: false, powerPreference: "high-performance", preserveDrawingBuffer: true });
  if (context === null) throw new Error("this browser offers no WebGL 2, which the views are drawn with");
  return { canvas, context };
}
