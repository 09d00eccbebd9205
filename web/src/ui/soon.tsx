/** Code that is not needed to show the first picture: fetched when the page has come to rest, or sooner where it is wanted. */

import { type ComponentType, lazy, type LazyExoticComponent } from "react";

const whenAtRest = (run: () => void) => ("requestIdleCallback" in window ? requestIdleCallback(run, { timeout: 2000 }) : setTimeout(run, 500));

export function soon<Props extends object>(load: () => Promise<ComponentType<Props>>): LazyExoticComponent<ComponentType<Props>> {
  whenAtRest(() => void load());
  return lazy(async () => ({ default: await load() }));
}
