/** A picture from the server as an address, kept by the query cache; the last one stays while the next is made. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Address } from "./client";
import { fetchPreviewUrl } from "./pictures";

type Order = Parameters<typeof fetchPreviewUrl>[1];
export type Made = { readonly url: string | null; readonly failed: boolean };

/** So long an address that was replaced still serves what is on its way to the screen. */
const LINGER_MS = 4000;

/**
 * `key` names all that the picture depends on; null: none is wanted now, and the last one stays. `order` is what is
 * asked for once it is wanted.
 */
export function usePictureUrl(at: Address | null, key: string | null, order: (signal: AbortSignal) => Order | Promise<Order | null>): Made {
  const { data, isError } = useQuery({
    queryKey: ["picture", at, key],
    // who closes what shows it no longer waits for it, nor does anything asked for after it
    queryFn: async ({ signal }) => {
      const wanted = await order(signal);
      return at && wanted ? fetchPreviewUrl(at, wanted, signal) : null;
    },
    enabled: at !== null && key !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 0,
    retry: false,
  });
  const url = data ?? null;
  useEffect(
    () => () => {
      if (url) setTimeout(() => URL.revokeObjectURL(url), LINGER_MS);
    },
    [url],
  );
  return { url, failed: isError };
}
