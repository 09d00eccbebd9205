/** The room: dim or day. Kept in this browser. */

import { useSyncExternalStore } from "react";

const KEY = "calado-room";
export type Room = "dim" | "day";
const listeners = new Set<() => void>();

function room(): Room {
  return document.documentElement.dataset.theme === "day" ? "day" : "dim";
}

function enter(next: Room): void {
  document.documentElement.dataset.theme = next;
  localStorage.setItem(KEY, next);
  for (const tell of listeners) tell();
}

export function enterLast(): void {
  enter(localStorage.getItem(KEY) === "day" ? "day" : "dim");
}

export function changeRoom(): void {
  enter(room() === "dim" ? "day" : "dim");
}

export function useRoom(): Room {
  return useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, room);
}
