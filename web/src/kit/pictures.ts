/** Pictures on their way to the store: recognised, made no larger than the sheet can use, pages of a PDF drawn. */
import { sendFile } from "../api/client";

export interface Kept {
  id: string;
  width_px: number;
  height_px: number;
}

/** Pixels along the longer side of a plan: enough for a large sheet, light enough to drag. */
export const PLAN_PX = 4096;
const LARGEST_FILE = 100 * 2 ** 20;

export class NotAPicture extends Error {}

async function firstBytes(file: Blob, n: number): Promise<string> {
  return new TextDecoder("latin1").decode(await file.slice(0, n).arrayBuffer());
}

export async function isPdf(file: Blob): Promise<boolean> {
  return (await firstBytes(file, 1024)).includes("%PDF-");
}

async function asBlob(canvas: HTMLCanvasElement, type: string): Promise<Blob> {
  return new Promise((resolve, reject) => canvas.toBlob((b) => (b ? resolve(b) : reject(new NotAPicture("The picture is too large for this browser."))), type, 0.92));
}

/** Keeps a PNG or JPEG; one with more pixels along a side than `most` is made smaller first. */
export async function keepPicture(file: Blob, most = PLAN_PX): Promise<Kept> {
  if (file.size > LARGEST_FILE) throw new NotAPicture(`The file has ${Math.round(file.size / 2 ** 20)} MB; 100 MB is the most.`);
  const head = await firstBytes(file, 4);
  const type = head.startsWith("\u0089PNG") ? "image/png" : head.startsWith("\u00ff\u00d8") ? "image/jpeg" : null;
  // anything else goes to the server as it is: it knows pictures by their bytes and says what is wrong
  if (!type) return sendFile<Kept>("/api/pictures", file);
  let picture: ImageBitmap;
  try {
    picture = await createImageBitmap(file);
  } catch {
    return sendFile<Kept>("/api/pictures", file);
  }
  if (Math.max(picture.width, picture.height) <= most && file.size < 16 * 2 ** 20) {
    picture.close();
    return sendFile<Kept>("/api/pictures", file);
  }
  return sendFile<Kept>("/api/pictures", await shrunk(picture, most, type));
}

/** A picture with so many pixels along its longer side at most. */
async function shrunk(picture: ImageBitmap, most: number, type: string): Promise<Blob> {
  const shrink = Math.min(1, most / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(picture.width * shrink));
  canvas.height = Math.max(1, Math.round(picture.height * shrink));
  canvas.getContext("2d")!.drawImage(picture, 0, 0, canvas.width, canvas.height);
  picture.close();
  return asBlob(canvas, type);
}

/** Pixels along the longer side of a photo of the site: a mark on a tube can be read, and it goes through a slow network. */
const PHOTO_PX = 2000;

/** A photo as a phone takes it, made small enough to wait for a network, without what a camera writes beside the picture. */
export async function sitePhoto(file: Blob): Promise<Blob> {
  if (file.size > LARGEST_FILE) throw new NotAPicture(`The file has ${Math.round(file.size / 2 ** 20)} MB; 100 MB is the most.`);
  const picture = await createImageBitmap(file, { imageOrientation: "from-image" }).catch(() => null);
  if (!picture) throw new NotAPicture("This file is no picture that this browser can read.");
  return shrunk(picture, PHOTO_PX, "image/jpeg");
}

export interface Pdf {
  pages: number;
  /** Draws a page, counted from 1, as a picture. */
  page(number: number): Promise<Blob>;
  close(): void;
}

/** Opens a PDF; its reader is loaded only now. */
export async function openPdf(file: Blob): Promise<Pdf> {
  const [pdfjs, worker] = await Promise.all([import("pdfjs-dist"), import("pdfjs-dist/build/pdf.worker.min.mjs?url")]);
  pdfjs.GlobalWorkerOptions.workerSrc = worker.default;
  const task = pdfjs.getDocument({ data: new Uint8Array(await file.arrayBuffer()), isEvalSupported: false, verbosity: 0 });
  let open;
  try {
    open = await task.promise;
  } catch (e) {
    throw new NotAPicture(e instanceof Error && e.name === "PasswordException" ? "This PDF is locked by a password." : "This is no PDF that reads: it is damaged or something else.");
  }
  return {
    pages: open.numPages,
    async page(number) {
      const page = await open.getPage(number);
      const natural = page.getViewport({ scale: 1 });
      const viewport = page.getViewport({ scale: PLAN_PX / Math.max(natural.width, natural.height) });
      const canvas = document.createElement("canvas");
      canvas.width = Math.ceil(viewport.width);
      canvas.height = Math.ceil(viewport.height);
      await page.render({ canvas, viewport, background: "#ffffff" }).promise;
      return asBlob(canvas, "image/png");
    },
    close: () => void task.destroy(),
  };
}
