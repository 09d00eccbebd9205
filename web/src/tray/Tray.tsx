/** The tray: the controls of what is chosen. */

import { Suspense } from "react";
import type { Catalogue, Shot } from "../api/client";
import { useBench } from "../bench/store";
import { regionOf } from "../document/edit";
import { soon } from "../ui/soon";
import { Say } from "../ui/Words";

const DrawTray = soon(async () => (await import("./DrawTray")).DrawTray);
const WhatTray = soon(async () => (await import("./WhatTray")).WhatTray);
const WhereTray = soon(async () => (await import("./WhereTray")).WhereTray);

export function Tray({ catalogue, shot }: { readonly catalogue: Catalogue; readonly shot: Shot }) {
  const sheet = useBench((state) => state.sheet);
  const choice = useBench((state) => state.selection);
  return (
    <footer data-tray className="relative flex h-tray min-w-0 border-t border-line bg-tray pt-3 pr-4 pl-5" aria-label="Tray">
      <Suspense>{contents()}</Suspense>
    </footer>
  );

  function contents() {
    if (choice.kind === "nothing") return <Say className="pl-3.5">Press a word in the sheet, or a region on the shelf.</Say>;
    const pass = sheet.passes.find((each) => each.id === choice.pass);
    if (choice.kind === "where") {
      const region = regionOf(sheet, choice.region);
      const part = region?.parts.find((each) => each.id === choice.part) ?? region?.parts[0];
      return <WhereTray {...{ catalogue, pass, region, part, shot }} />;
    }
    if (choice.kind === "draw") return <DrawTray draw={choice} catalogue={catalogue} region={regionOf(sheet, choice.region)?.name} />;
    if (!pass) return null;
    return <WhatTray {...{ catalogue, pass }} frame={shot} side={choice.side} group={choice.group} adjustment={choice.adjustment} />;
  }
}
