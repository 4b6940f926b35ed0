'use client';

// One facet: its values with their counts. A click asks for a value, clicks on several ask for any of them, "not"
// leaves one out.

import { Button, Input } from 'antd';
import { type ReactNode, useState } from 'react';
import { FACETS, type FacetName } from '@/core/search/facets';
import { foldText } from '@/core/text/fold';
import type { FacetCount } from '@/core/search/search-record';
import { count } from '@/ui/format';
import { MarkerSign } from '@/ui/marker-sign';
import { RatingBars } from '@/ui/rating-bars';
import { useLadder } from '@/features/parts/judging/ladder';
import { useMarkersByName } from '@/features/parts/judging/markers';
import styles from './shelves.module.css';
import { ShelfLine, Shelf, useShelfOpen } from './shelf';
import { useFacet } from '@/features/parts/search/use-facets';

/** Values in sight before more are asked for. */
const SHOWN = 8;

export function FacetShelf({ name }: { name: FacetName }) {
  const open = useShelfOpen(name);
  return (
    <Shelf name={name} title={FACETS[name].label}>
      {open && <Values name={name} />}
    </Shelf>
  );
}

function Values({ name }: { name: FacetName }) {
  const { values, chosen, toggle, leaveOut, clear } = useFacet(name);
  const words = useWordsFor(name);
  const [all, setAll] = useState(false);
  const [typed, setTyped] = useState('');
  const asked = [...chosen.any, ...chosen.not];
  const absent = asked
    .filter((value) => !value.includes('..'))
    .filter((value) => !values.some((one) => one.value === value))
    .map((value): FacetCount => ({ value, count: 0 }));
  const fitting = [...absent, ...values].filter(
    ({ value }) => typed === '' || foldText(value).includes(foldText(typed)),
  );
  // what is asked for stays in sight
  const shown = all ? fitting : fitting.filter(({ value }, index) => index < SHOWN || asked.includes(value));
  return (
    <>
      {all && values.length > SHOWN && (
        <div className={styles.facetFind}>
          <Input
            size="small"
            placeholder="Type to find a value"
            aria-label={`Find a value of ${FACETS[name].label}`}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            allowClear
          />
        </div>
      )}
      <div className={all ? styles.facetAll : undefined}>
        {shown.map(({ value, count: photos }) => (
          <div key={value} className={styles.facetValue}>
            <ShelfLine
              name={words(value)}
              number={photos}
              chosen={chosen.any.includes(value)}
              out={chosen.not.includes(value)}
              onClick={() => toggle(value)}
            />
            <button
              type="button"
              className={styles.not}
              aria-pressed={chosen.not.includes(value)}
              aria-label={`not ${value}`}
              title="Leave these out"
              onClick={() => leaveOut(value)}
            >
              not
            </button>
          </div>
        ))}
      </div>
      {values.length === 0 && absent.length === 0 && <p className="quiet">Nothing here has one.</p>}
      {name === 'rating' && (
        <div className={styles.atLeast}>
          {['1..', '2..', '3..', '4..'].map((from) => (
            <Button
              key={from}
              size="small"
              type={chosen.any.includes(from) ? 'primary' : 'text'}
              aria-pressed={chosen.any.includes(from)}
              onClick={() => toggle(from)}
            >
              {from[0]} up
            </Button>
          ))}
        </div>
      )}
      <div className={styles.facetFoot}>
        {values.length > SHOWN && (
          <Button size="small" type="text" onClick={() => setAll(!all)} aria-expanded={all}>
            {all ? 'Fewer' : `All ${count(values.length)}`}
          </Button>
        )}
        {asked.length > 0 && (
          <Button size="small" type="text" onClick={clear}>
            Any {FACETS[name].label.toLowerCase()}
          </Button>
        )}
      </div>
    </>
  );
}

const UNITS: Partial<Record<FacetName, (value: string) => string>> = {
  f: (value) => `f/${value}`,
  focal: (value) => `${value} mm`,
  iso: (value) => `ISO ${value}`,
  copies: (value) => (value === '1' ? 'one' : value),
};

function useWordsFor(name: FacetName): (value: string) => ReactNode {
  const { meanings } = useLadder();
  const markers = useMarkersByName();
  if (name === 'rating')
    return (value) => (
      <span className={styles.rung}>
        <RatingBars rating={Number(value)} />
        {meanings[value] ?? (value === '0' ? 'unrated' : value === '-1' ? 'rejected' : value)}
      </span>
    );
  if (name === 'marker') {
    return (value) => {
      const marker = markers.get(value);
      return (
        <span className={styles.markerName}>
          {marker && <MarkerSign {...marker} />}
          {value}
        </span>
      );
    };
  }
  return UNITS[name] ?? ((value) => (name === 'format' ? value.toUpperCase() : value));
}
