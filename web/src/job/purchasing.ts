/** What is bought, in a draft of the job: parts that are left out as usual are put there to be changed. */
import type { Job } from "../api/client";

type Purchasing = NonNullable<Job["purchasing"]>;

export const purchasing = <K extends keyof Purchasing>(draft: Job, part: K): NonNullable<Purchasing[K]> => ((draft.purchasing ??= {})[part] ??= {} as Purchasing[K])!;
