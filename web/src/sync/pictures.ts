import { asMeant, type Fault, own, Refused } from "../api/client";
import type { components } from "../api/schema";

const LARGEST = 20 * 1024 * 1024;

/** Keep a picture's file; throws what refuses it. */
export async function upload(file: File): Promise<components["schemas"]["PictureInfo"]> {
  if (file.size > LARGEST) {
    throw new Error(`the picture has ${(file.size / 2 ** 20).toFixed(1)} MB; at most 20 MB are taken`);
  }
  const response = asMeant(await fetch("/api/pictures", { method: "POST", body: file, headers: { "Content-Type": file.type || "application/octet-stream", ...own() } }));
  if (!response.ok) throw new Refused(response.status, (await response.json()) as Fault);
  return (await response.json()) as components["schemas"]["PictureInfo"];
}
