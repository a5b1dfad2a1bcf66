/** Light or dark: as the system has it until the viewer says otherwise. Paper stays white. */
import { usePreferredDark } from "@vueuse/core";
import { computed, watchEffect } from "vue";
import { viewer } from "../job/viewer";

const system = usePreferredDark();
const dark = computed(() => (viewer.theme.value === "system" ? system.value : viewer.theme.value === "dark"));
watchEffect(() => document.documentElement.classList.toggle("dark", dark.value));

export const useTheme = () => ({ dark, toggle: () => (viewer.theme.value = dark.value ? "light" : "dark") });
