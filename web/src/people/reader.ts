/** What others do here, and what one may not, told once at a time. */
import { ElMessage } from "element-plus/es/components/message/index.mjs";
import "element-plus/es/components/message/style/css";

export const tellReader = (offline: boolean): void =>
  void ElMessage.info({ message: offline ? "No connection: the job can be read, not changed. Records can be written; they are sent later." : "You may read this job; changing it is for designers.", grouping: true });

/** Others' changes have been taken in. */
export const tellTaken = (who: string) => void ElMessage.info({ message: who ? `${who} saved this job: their changes and yours are both in.` : "This job was saved elsewhere: those changes and yours are both in.", grouping: true });
