/** Tools of the thermal picture: look, or lay the photo where it belongs. */
import type { Point } from "../../api/client";
import { toolbox } from "../../sheet/tool";
import { photo } from "./thermal";

export function thermalTools() {
  let from: { pointer: Point; photo: Point } | null = null;
  return toolbox({ tool: "look", problem: "" }, [
    { id: "look", name: "Look", key: "v", fits: () => photo.url !== "", down: () => false, hint: () => "" },
    {
      id: "photo",
      name: "Move the photo",
      key: "m",
      fits: () => photo.url !== "",
      down: (p) => {
        from = { pointer: p.at, photo: [...photo.at] };
        return true;
      },
      move: (p) => {
        if (from) photo.at = [from.photo[0] + p.at[0] - from.pointer[0], from.photo[1] + p.at[1] - from.pointer[1]];
      },
      up: () => void (from = null),
      cancel: () => {
        if (!from) return false;
        photo.at = from.photo;
        from = null;
        return true;
      },
      hint: () => "Drag the photo onto the floor that it shows; its width is typed above.",
    },
  ], {
    nudge: (by) => {
      if (!photo.url) return false;
      photo.at = [photo.at[0] + by[0], photo.at[1] + by[1]];
      return true;
    },
  });
}
