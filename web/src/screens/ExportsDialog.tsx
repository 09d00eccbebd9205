/** What a project exports, in a dialog of its own. */

import { Dialog } from "../ui/Dialog";
import { ExportList } from "./ExportList";

export function ExportsDialog({ project, onClose }: { readonly project: string; readonly onClose: () => void }) {
  return (
    <Dialog title="Exports" onClose={onClose}>
      <ExportList project={project} />
    </Dialog>
  );
}
