'use client';

// The small quiet marks on a tile, each with its words for whoever does not see them.

import type { ReactNode } from 'react';
import { FLAG, SET_CODES } from '@/core/search/search-record';
import { setWords } from '@/messages/sets';
import { MarkerSign } from '@/ui/marker-sign';
import { RatingBars } from '@/ui/rating-bars';
import type { Marker } from '@/core/sift/judging';
import type { Mark } from './wall-choices';
import styles from './wall.module.css';

export interface TileFacts {
  rating: number;
  label: string;
  marker: Marker | undefined;
  flags: number;
  setCode: number;
  setSize: number;
  /** A closed set of which only this photo is shown. */
  closed: boolean;
  copies: number;
  /** No file of it can be reached now. */
  away: boolean;
}

interface Sign {
  mark: Mark;
  words: string;
  sign: ReactNode;
}

/** What there is to say of a tile, of the marks that are switched on. */
export function signsOf(facts: TileFacts, shown: readonly Mark[]): Sign[] {
  const { flags, setCode, setSize, copies, away, label, marker, rating } = facts;
  const kind = SET_CODES[setCode];
  const all: (Sign | false)[] = [
    rating !== 0 && {
      mark: 'rating',
      words: rating === -1 ? 'rejected' : `rating ${rating}`,
      sign: <RatingBars rating={rating} />,
    },
    label !== '' && {
      mark: 'marker',
      words: label,
      sign: marker ? <MarkerSign {...marker} /> : <span className={styles.label}>{label}</span>,
    },
    kind !== undefined &&
      kind !== null && {
        mark: 'set',
        words: `${setWords(setCode, setSize)}${facts.closed ? ', closed' : ''}`,
        sign: <SetSign code={setCode} size={setSize} closed={facts.closed} />,
      },
    (flags & FLAG.blank) !== 0 && {
      mark: 'blank',
      words: 'blanks open',
      sign: (
        <svg {...BOX}>
          <path d="M5 2H2v8h3M7 2h3v8H7" />
        </svg>
      ),
    },
    (flags & FLAG.unplaced) !== 0 && {
      mark: 'place',
      words: 'place missing',
      sign: (
        <svg {...BOX}>
          <path d="M6 11C3 7.5 2.4 6 2.4 4.8a3.6 3.6 0 0 1 7.2 0C9.6 6 9 7.5 6 11zM1 11L11 1" />
        </svg>
      ),
    },
    away && {
      mark: 'away',
      words: 'drive away',
      sign: (
        <svg {...BOX}>
          <path d="M1.5 3.5h9v5h-9z" strokeDasharray="2 1.4" />
        </svg>
      ),
    },
    copies < 2 && {
      mark: 'unsafe',
      words: copies === 0 ? 'no verified copy' : 'one verified copy only',
      sign: <span className={styles.copies}>{copies}/2</span>,
    },
    (!away || (flags & FLAG.large) !== 0) && {
      mark: 'ready',
      words: 'ready at full size',
      sign: (
        <svg {...BOX}>
          <path d="M1.5 4.5v-3h3M10.5 7.5v3h-3M1.5 1.5L5 5M10.5 10.5L7 7" />
        </svg>
      ),
    },
  ];
  return all.filter((sign): sign is Sign => sign !== false && shown.includes(sign.mark));
}

const BOX = {
  width: 12,
  height: 12,
  viewBox: '0 0 12 12',
  fill: 'none',
  stroke: 'currentColor',
  strokeWidth: 1.3,
  'aria-hidden': true,
};

/** A bracket is dark, middle and light; a closed set shows how many lie under it. */
function SetSign({ code, size, closed }: { code: number; size: number; closed: boolean }) {
  const kind = SET_CODES[code];
  return (
    <span className={styles.setSign} data-closed={closed}>
      <svg {...BOX}>
        {kind === 'bracket' ? (
          <>
            <path d="M.7 3.5h3.2v5H.7z" fill="currentColor" />
            <path d="M4.4 3.5h3.2v5H4.4z" fill="currentColor" fillOpacity={0.45} />
            <path d="M8.1 3.5h3.2v5H8.1z" />
          </>
        ) : kind === 'panorama' ? (
          <path d="M1 3h10v6H1zM4.3 3v6M7.7 3v6" />
        ) : kind === 'companion' ? (
          <path d="M1 1h6v6H1zM5 5h6v6H5z" />
        ) : kind === 'burst' ? (
          <path d="M1 6h6M3 3h7M3 9h7" />
        ) : (
          <path d="M1.5 1.5h9v9h-9zM4 6h4M6 4v4" />
        )}
      </svg>
      {size}
    </span>
  );
}

export function TileMarks({ signs }: { signs: Sign[] }) {
  if (signs.length === 0) return null;
  return (
    <span className={styles.marks} aria-hidden>
      {signs.map(({ mark, sign }) => (
        <span key={mark} className={styles.mark} data-mark={mark}>
          {sign}
        </span>
      ))}
    </span>
  );
}
