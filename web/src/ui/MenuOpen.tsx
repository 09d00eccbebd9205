/** A menu under a word: sections of lines, each chosen or not; arrows go through them, Escape closes. */
import { useOpenNow } from "./openNow";
import { LOOKS } from "./Button";

import type { ReactNode } from "react";
import { Button as AriaButton, Menu as AriaMenu, MenuItem, MenuSection, MenuTrigger, Popover, Separator } from "react-aria-components";
import { Kbd } from "./Kbd";

const ITEM =
  "group flex h-7 cursor-default items-center gap-2 px-3 text-ui font-medium text-ink-2 outline-none data-focused:bg-token data-focus-visible:outline-2 data-focus-visible:-outline-offset-2 data-focus-visible:outline-focus data-selected:font-semibold data-selected:text-ink";

export type Line = { readonly id: string; readonly name: string; readonly letter?: string; readonly on: boolean; readonly onPress: () => void };

export type MenuProps = {
  readonly name: ReactNode;
  readonly label: string;
  readonly active: boolean;
  /** of a section that is `single` one line is chosen, of others any number */
  readonly sections: readonly { readonly single: boolean; readonly lines: readonly Line[] }[];
};

export function MenuOpen({ name, label, active, sections }: MenuProps) {
  const word = useOpenNow();
  return (
    <MenuTrigger>
      <AriaButton ref={word} className={`${LOOKS.quiet} data-[active=true]:font-semibold data-[active=true]:text-ink`} data-active={active}>
        {name}
      </AriaButton>
      <Popover offset={6} placement="bottom start" className="rounded-token border border-edge bg-sheet">
        <AriaMenu aria-label={label} className="menu min-w-52 flex-nowrap px-0 py-1.5 outline-none">
          {sections.map(({ single, lines }, index) => (
            <MenuSection
              key={lines[0]?.id}
              aria-label={`${label} ${index + 1}`}
              selectionMode={single ? "single" : "multiple"}
              disallowEmptySelection={single}
              selectedKeys={lines.filter((line) => line.on).map((line) => line.id)}
              onSelectionChange={(keys) => {
                const chosen = keys === "all" ? new Set(lines.map((line) => line.id)) : keys;
                for (const line of lines) if (chosen.has(line.id) !== line.on && (!single || chosen.has(line.id))) line.onPress();
              }}
            >
              {index > 0 && <Separator className="my-1.5 h-px bg-line" />}
              {lines.map((line) => (
                <MenuItem key={line.id} id={line.id} textValue={line.name} className={ITEM}>
                  <span className="size-[5px] rotate-45 group-data-selected:bg-ink" />
                  {line.name}
                  {line.letter && <Kbd className="ml-auto">{line.letter}</Kbd>}
                </MenuItem>
              ))}
            </MenuSection>
          ))}
        </AriaMenu>
      </Popover>
    </MenuTrigger>
  );
}
