/** What runs for a project, and what it exported, in a dialog of its own. */

import { Dialog } from "../ui/Dialog";
import { ExportList } from "./ExportList";
import { JobList } from "./JobList";

export function ExportsDialog({ project, onClose }: { readonly project: string; readonly onClose: () => void }) {
  return (
    <Dialog title="What runs, and what was written" onClose={onClose}>
      <JobList project={project} />
      <ExportList project={project} />
    </Dialog>
  );
}
