/** How a material is drawn in a section: by how well it keeps heat. */
export const tone = (conductivity: number | undefined): string =>
  conductivity === undefined || conductivity === 0 ? "#ffffff" : conductivity < 0.06 ? "#f3e2a9" : conductivity < 0.3 ? "#d9b98c" : conductivity < 0.9 ? "#c58d6d" : "#a8a095";
