import { computed } from "vue";
import { store } from "../../job/store";

/** The room whose corners can be gripped and whose walls show their lengths. */
export const useChosenRoom = () =>
  computed(() => {
    const s = store.where.selection;
    return s?.kind === "room" || s?.kind === "wall" ? store.levelJob.value?.rooms.find((r) => r.id === s.id) : undefined;
  });
