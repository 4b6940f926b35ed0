'use client';

// The values of the facets that are open, with their counts in the scope: asked for together, a moment after the photos
// themselves.

import { useEffect } from 'react';
import { create } from 'zustand';
import { FACETS, type FacetCounts, type FacetName } from '@/core/search/facets';
import type { FacetCount } from '@/core/search/search-record';
import { type ChosenValues, chosenIn, withChosen } from '@/core/query/facet-terms';
import { session } from '@/engine/session';
import { useResult } from './use-result';
import { scopeInAddress, useScope } from './use-scope';
import { useSession } from '@/features/parts/session/use-session';

/** Values of one facet that are asked for; the rest is found by typing. */
const VALUES = 500;

interface FacetState {
  /** How many shelves want each facet. */
  wanted: Map<FacetName, number>;
  counts: FacetCounts;
}

const useFacetState = create<FacetState>(() => ({ wanted: new Map(), counts: {} }));

let asking = false;
let again = false;

/** One question at a time: what changed meanwhile is asked for when the answer is there. */
async function ask(scope: string): Promise<void> {
  if (asking) {
    again = true;
    return;
  }
  asking = true;
  const names = [...useFacetState.getState().wanted.keys()];
  try {
    const counts = names.length > 0 ? await session.search.facets(scope, names, VALUES) : {};
    useFacetState.setState({ counts });
  } catch {
    // the worker died: it is filled anew, and asked again
  } finally {
    asking = false;
    if (again) {
      again = false;
      void ask(scopeInAddress());
    }
  }
}

/** Keeps the counts of what is open current; for whoever shows facets. */
export function useKeepFacets(): void {
  const of = useResult((state) => state.of);
  const version = useSession((state) => state.indexVersion);
  const wanted = useFacetState((state) => [...state.wanted.keys()].join());
  useEffect(() => {
    if (of !== null) void ask(of);
  }, [of, version, wanted]);
}

export interface FacetInScope {
  values: readonly FacetCount[];
  chosen: ChosenValues;
  /** Adds a value to those asked for, or takes it away. */
  toggle: (value: string) => void;
  /** Leaves out photos that have it, or no longer. */
  leaveOut: (value: string) => void;
  clear: () => void;
}

export function useFacet(name: FacetName): FacetInScope {
  const { scope, setScope } = useScope();
  const values = useFacetState((state) => state.counts[name]) ?? NONE;
  const { key, operator } = FACETS[name];
  const chosen = chosenIn(scope, key);
  useEffect(() => {
    const want = (by: number) =>
      useFacetState.setState(({ wanted }) => {
        const next = new Map(wanted);
        next.set(name, (next.get(name) ?? 0) + by);
        if ((next.get(name) ?? 0) <= 0) next.delete(name);
        return { wanted: next };
      });
    want(1);
    return () => want(-1);
  }, [name]);
  const change = (how: (now: ChosenValues) => ChosenValues) =>
    setScope((now) => withChosen(now, key, operator, how(chosenIn(now, key))));
  const flip = (list: readonly string[], value: string) =>
    list.includes(value) ? list.filter((one) => one !== value) : [...list, value];
  return {
    values,
    chosen,
    toggle: (value) => change(({ any, not }) => ({ any: flip(any, value), not: not.filter((one) => one !== value) })),
    leaveOut: (value) => change(({ any, not }) => ({ any: any.filter((one) => one !== value), not: flip(not, value) })),
    clear: () => change(() => ({ any: [], not: [] })),
  };
}

const NONE: readonly FacetCount[] = [];
