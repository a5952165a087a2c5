import type { Values } from "../model/store";
import type { Handle } from "./Handle";
import type { Tool } from "./Tool";

/** No handle in the views: what is worked is told by fields, or elsewhere. */
export class NoHandle implements Tool {
  handleAt(): Handle | null {
    return null;
  }

  press(): void {}

  drag(): Values {
    return {};
  }

  draw(): void {}
}
