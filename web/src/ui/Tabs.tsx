/** Tabs: arrows move between them; a lozenge stands before one that holds values, where they stand close above it. What they show stands in `TabPanel`s. */

import { useId } from "react";
import { Tab, TabList } from "react-aria-components";

const TAB =
  "group relative h-6.5 cursor-default pl-3 text-ui leading-6.5 font-medium text-ink-2 outline-none data-focus-visible:outline-2 data-focus-visible:outline-focus data-selected:font-semibold data-selected:text-ink";

type Each<Id extends string> = { readonly id: Id; readonly name: string; readonly holds?: boolean; readonly tip?: string };
type Props<Id extends string> = { readonly label: string; readonly tabs: readonly Each<Id>[]; readonly className: string; readonly close?: boolean };

export function TabWords<Id extends string>({ label, tabs, className, close = false }: Props<Id>) {
  const described = useId();
  return (
    <>
    <span id={described} hidden>
      holds values
    </span>
    <TabList aria-label={label} className={className}>
      {tabs.map(({ id, name, holds = false, tip }) => (
        <Tab key={id} id={id} aria-describedby={holds ? described : undefined} className={`${TAB} ${close ? "!pl-1 !text-note !leading-6" : ""}`}>
          {holds && <span className={`absolute rotate-45 bg-ink ${close ? "top-0.5 left-[calc(50%+1px)] size-1" : "top-2.5 left-[3px] size-[5px]"}`} />}
          <span title={tip} className="pb-[3px] group-data-selected:shadow-[0_2px_0_var(--color-mark-line)]">
            {name}
          </span>
        </Tab>
      ))}
    </TabList>
    </>
  );
}
