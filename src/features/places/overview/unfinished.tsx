'use client';

// What was begun and is not at its end: cards that wait, accessions not sifted, rounds open, photos not described or
// placed. Each leads to where one goes on.

import Link from 'next/link';
import { sumsOf } from '@/core/sift/round';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import { takeInAddress } from '@/features/parts/connecting/connect-drive';
import { type Need, NeedList } from '@/features/parts/needs/need-list';
import { useCounts } from '@/features/parts/search/use-counts';
import { findAddress } from '@/features/parts/search/use-scope';
import { useSession } from '@/features/parts/session/use-session';
import styles from './overview.module.css';

/** The latest accessions of which it is told how much is not sifted. */
const ACCESSIONS = 4;
const placeAddress = (place: string, scope: string): string => `/${place}?q=${encodeURIComponent(scope)}`;

const LEFT: { scope: string; words: string; place: string; act: string }[] = [
  { scope: 'missing:caption missing:headline', words: 'not described', place: 'describe', act: 'Describe' },
  { scope: 'left:blanks', words: 'with a blank open', place: 'describe', act: 'Fill in' },
  { scope: 'left:codes', words: 'with a wrong code', place: 'describe', act: 'Describe' },
  { scope: 'left:words', words: 'with a word that is not in the vocabulary', place: 'describe', act: 'Describe' },
  { scope: 'left:notices', words: 'with a notice without year or owner', place: 'describe', act: 'Describe' },
  { scope: 'missing:place', words: 'without a place', place: 'locate', act: 'Locate' },
  { scope: 'missing:date', words: 'without a date', place: 'describe', act: 'Describe' },
];

export function Unfinished() {
  const needs = [...useCards(), ...useUnsifted(), ...useRounds(), ...useLeft()].filter(({ count }) => count !== 0);
  return (
    <section className={styles.panel} aria-label="Unfinished">
      <header>
        <h2>Unfinished</h2>
        <Link href="/take-in">Take in…</Link>
      </header>
      {needs.length > 0 ? <NeedList label="Unfinished" needs={needs} /> : <p className="quiet">All is done.</p>}
    </section>
  );
}

function useCards(): Need[] {
  const connections = useSession((state) => state.connections);
  const sources = useLive(() => session.db.sources.toArray()) ?? [];
  return sources
    .filter(({ id, takenOut }) => connections[id] !== undefined && connections[id].state !== 'away' && !takenOut)
    .map(({ id, name }) => ({
      words: `“${name}” is here, to take in from`,
      count: null,
      to: takeInAddress(id),
      level: 'plain',
      act: { to: takeInAddress(id), words: 'Take in' },
    }));
}

function useUnsifted(): Need[] {
  const accessions =
    useLive(async () =>
      (await session.db.accessions.toArray()).sort((a, b) => b.startedAt - a.startedAt).slice(0, ACCESSIONS),
    ) ?? [];
  const scopes = accessions.map(({ number }) => `accession:${number} rating:0`);
  const counts = useCounts(scopes);
  return accessions.map(({ number, name }, at) => ({
    words: `of ${number}${name ? ` ${name}` : ''} not sifted`,
    count: counts[at] ?? 0,
    to: findAddress(scopes[at] ?? ''),
    level: 'plain',
    act: { to: placeAddress('sift', `accession:${number}`), words: 'Sift' },
  }));
}

function useRounds(): Need[] {
  const rounds = useLive(() => session.db.rounds.toArray()) ?? [];
  return rounds
    .filter(({ deleted }) => !deleted)
    .map((round) => ({
      words: `of the round ${round.name} not judged`,
      count: sumsOf(round).undecided,
      to: `/sift?round=${encodeURIComponent(round.id)}`,
      level: 'plain',
      act: null,
    }));
}

function useLeft(): Need[] {
  const counts = useCounts(LEFT.map(({ scope }) => scope));
  return LEFT.map(({ scope, words, place, act }, at) => ({
    words,
    count: counts[at] ?? 0,
    to: findAddress(scope),
    level: 'plain',
    act: { to: placeAddress(place, scope), words: act },
  }));
}
