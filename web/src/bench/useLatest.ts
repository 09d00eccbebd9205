/** The newest value, for handlers that are set up once. */

import { type RefObject, useLayoutEffect, useRef } from "react";

export function useLatest<Value>(value: Value): RefObject<Value> {
  const ref = useRef(value);
  useLayoutEffect(() => {
    ref.current = value;
  });
  return ref;
}
