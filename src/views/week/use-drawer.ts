import { useCallback, useEffect, useState } from "react";
import { call } from "../../client/api";
import type { DrawerItem } from "../../services/week/schema";

interface DrawerState {
  items: DrawerItem[];
  /** False until the whole shelf is there. */
  whole: boolean;
  /** Fetches it again where it could not be had. */
  load: () => void;
}

/** What can be put on a day: fetched when the page is there. @param first  what the page came with */
export function useDrawer(first: DrawerItem[]): DrawerState {
  const [items, setItems] = useState<DrawerItem[] | null>(null);
  const load = useCallback(() => {
    call<{ drawer: DrawerItem[] }>("GET", "/api/plan/drawer").then(
      ({ drawer }) => setItems(drawer),
      // Without it the plan works on; who opens the drawer has it fetched again.
      () => undefined,
    );
  }, []);
  useEffect(load, [load]);
  return { items: items ?? first, whole: items !== null, load };
}
