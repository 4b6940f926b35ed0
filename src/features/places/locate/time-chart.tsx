'use client';

// Tracks and photos on one axis of time. A row of photos can be pulled along, by pointer or by keys: its clock follows,
// and with it the matches on the map.

import { type DOMAttributes, type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from 'react';
import { ReferenceArea, Scatter, ScatterChart, XAxis, YAxis } from 'recharts';
import { differenceText } from '@/core/locate/clock';
import type { Placing } from '@/core/search/placing';
import { isoOfSeconds } from '@/core/time/civil';
import { segmentsOf } from '@/core/locate/tracks/track';
import { useSize } from '@/ui/use-size';
import { keepClock } from './keep-clock';
import styles from './locate.module.css';
import type { Clock, Matching } from './use-matching';

const LABELS_PX = 196;
/** Half of the longest label of the axis. */
const RIGHT_PX = 36;
const LANE_PX = 26;
const AXIS_PX = 30;
/** Rows beyond these are left to a narrower scope. */
const LANES = 5;
/** Photos nearer than this in the picture are one tick. */
const TICK_PX = 2;

type Moved = { group: number; differenceSeconds: number } | null;

interface Lane {
  clock: Clock;
  name: string;
  /** The last part of its folder, or the accession. */
  shoot: string;
  /** No other row is of the same camera. */
  isAlone: boolean;
  /** True times, in seconds. */
  times: number[];
}

interface Props {
  placing: Placing;
  matching: Matching;
  onMove: (moved: Moved) => void;
}

export function TimeChart({ placing, matching, onMove }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const { width } = useSize(box);
  const lanes = useMemo(() => lanesOf(placing, matching), [placing, matching]);
  const grip = useRef<{ clock: Clock; x: number } | null>(null);
  const held = useRef<[number, number] | null>(null);
  const [moving, setMoving] = useState(false);
  const spans = useMemo(
    () =>
      matching.used.flatMap(({ track }) =>
        segmentsOf(track).map(([from, to]): [number, number] => [track.utc[from] ?? 0, track.utc[to - 1] ?? 0]),
      ),
    [matching.used],
  );
  const span = spanOf(spans, lanes);
  if (!span) return null;
  // while a row is pulled the axis stands still
  const domain: [number, number] = moving && held.current ? held.current : span;
  held.current = domain;
  const secondsPerPixel = (domain[1] - domain[0]) / Math.max(1, width - LABELS_PX - RIGHT_PX);
  const height = (lanes.length + 1) * LANE_PX + AXIS_PX;
  const start = (clock: Clock) => (event: PointerEvent) => {
    (event.target as Element).setPointerCapture(event.pointerId);
    grip.current = { clock, x: event.clientX };
    setMoving(true);
  };
  const differenceAt = (clientX: number): Moved => {
    if (!grip.current) return null;
    const { clock, x } = grip.current;
    return {
      group: clock.group,
      differenceSeconds: Math.round(clock.differenceSeconds + (clientX - x) * secondsPerPixel),
    };
  };
  const end = (event: PointerEvent) => {
    const moved = differenceAt(event.clientX);
    const clock = grip.current?.clock;
    grip.current = null;
    setMoving(false);
    if (!moved || !clock || moved.differenceSeconds === clock.differenceSeconds) return onMove(null);
    onMove(moved); // stands until the catalog says the same
    void keepClock(placing, clock, () => ({ differenceSeconds: moved.differenceSeconds })).then(
      (made) => !made && onMove(null),
    );
  };
  return (
    <div ref={box} className={styles.chart} role="group" aria-label="Photos and tracks in time" style={{ height }}>
      {width > 0 && (
        <Chart
          size={{ width, height }}
          domain={domain}
          spans={spans}
          lanes={lanes}
          placing={placing}
          secondsPerPixel={secondsPerPixel}
        />
      )}
      <span className={styles.laneName} style={{ top: 0 }}>
        Tracks, in UTC
      </span>
      {lanes.map((lane, index) => (
        <LaneSlider
          key={placing.groups[lane.clock.group]?.id}
          lane={lane}
          top={(index + 1) * LANE_PX}
          placing={placing}
          onPointerDown={start(lane.clock)}
          onPointerMove={(event) => grip.current && onMove(differenceAt(event.clientX))}
          onPointerUp={end}
          onPointerCancel={end}
        />
      ))}
    </div>
  );
}

/** From the first to the last of tracks and photos, with some air; `null` where there is nothing. */
function spanOf(spans: readonly [number, number][], lanes: readonly Lane[]): [number, number] | null {
  const all = [...spans.flat(), ...lanes.flatMap(({ times }) => times.slice(0, 1).concat(times.slice(-1)))];
  if (all.length === 0) return null;
  const [first, last] = [Math.min(...all), Math.max(...all)];
  const air = Math.max(600, (last - first) * 0.03);
  return [first - air, last + air];
}

interface ChartProps {
  size: { width: number; height: number };
  domain: [number, number];
  spans: readonly [number, number][];
  lanes: readonly Lane[];
  placing: Placing;
  secondsPerPixel: number;
}

/** The tracks as bars in the uppermost row, the photos as ticks in theirs. */
function Chart({ size, domain, spans, lanes, placing, secondsPerPixel }: ChartProps) {
  const rows = lanes.length + 1;
  return (
    <ScatterChart {...size} margin={{ top: 0, bottom: 0, left: LABELS_PX, right: RIGHT_PX }} accessibilityLayer={false}>
      <XAxis
        type="number"
        dataKey="at"
        domain={domain}
        allowDataOverflow
        height={AXIS_PX}
        tickFormatter={(at: number) => axisWords(at, domain)}
        tick={{ fontSize: 11, fill: 'var(--ink-2)' }}
        stroke="var(--ink-2)"
        tickCount={6}
      />
      <YAxis type="number" dataKey="lane" domain={[0, rows]} hide width={0} />
      {spans.map(([from, to]) => (
        <ReferenceArea
          key={`${from} ${to}`}
          x1={from}
          x2={Math.max(to, from + secondsPerPixel * 2)}
          y1={rows - 0.75}
          y2={rows - 0.25}
          fill="var(--accent)"
          fillOpacity={0.75}
          stroke="none"
        />
      ))}
      {lanes.map(({ clock, times }, index) => (
        <Scatter
          key={placing.groups[clock.group]?.id}
          data={ticksOf(times, rows - 1.5 - index, secondsPerPixel)}
          shape={Tick}
          isAnimationActive={false}
        />
      ))}
    </ScatterChart>
  );
}

interface LaneProps extends Pick<
  DOMAttributes<HTMLDivElement>,
  'onPointerDown' | 'onPointerMove' | 'onPointerUp' | 'onPointerCancel'
> {
  lane: Lane;
  top: number;
  placing: Placing;
}

/** The row of a clock, to be pulled along, or moved by arrow keys. */
function LaneSlider({ lane: { clock, name, shoot, isAlone }, top, placing, ...pulling }: LaneProps) {
  const byKey = (event: KeyboardEvent) => {
    const sense = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (sense === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    void keepClock(placing, clock, (now) => ({ differenceSeconds: now + sense * (event.shiftKey ? 60 : 1) }));
  };
  return (
    <div
      className={styles.lane}
      style={{ top, height: LANE_PX }}
      tabIndex={0}
      role="slider"
      aria-label={`Photos of ${name}, ${shoot}: arrow keys move their clock by a second, with Shift by a minute`}
      aria-valuenow={clock.differenceSeconds}
      aria-valuetext={differenceText(clock.differenceSeconds)}
      aria-valuemin={-93_600}
      aria-valuemax={93_600}
      onKeyDown={byKey}
      {...pulling}
    >
      <span className={styles.laneName} title={shoot}>
        {name} <span className="mono">{differenceText(clock.differenceSeconds)}</span>
        {!isAlone && <span className="quiet"> {shoot}</span>}
      </span>
    </div>
  );
}

function Tick({ cx = 0, cy = 0 }: { cx?: number; cy?: number }) {
  return <line x1={cx} x2={cx} y1={cy - 7} y2={cy + 7} stroke="var(--ink)" strokeWidth={1.5} />;
}

function lanesOf(placing: Placing, { clocks, outcomes }: Matching): Lane[] {
  const times: number[][] = placing.groups.map(() => []);
  placing.groupOf.forEach((group, at) => {
    const utc = outcomes[at]?.utcSeconds;
    if (typeof utc === 'number') times[group]?.push(utc);
  });
  const shown = clocks.filter(({ meetsTrack }) => meetsTrack);
  const cameras = shown.map(({ group }) => placing.groups[group]?.camera);
  const isAlone = (camera: string | undefined) => cameras.filter((one) => one === camera).length === 1;
  return shown
    .map((clock): Lane => ({
      clock,
      name: placing.groups[clock.group]?.camera || 'not recorded',
      shoot: placing.groups[clock.group]?.shoot.split('/').at(-1) ?? '',
      isAlone: isAlone(placing.groups[clock.group]?.camera),
      times: (times[clock.group] ?? []).sort((a, b) => a - b),
    }))
    .filter((lane) => lane.times.length > 0)
    .sort((a, b) => b.times.length - a.times.length)
    .slice(0, LANES);
}

function ticksOf(times: readonly number[], lane: number, secondsPerPixel: number): { at: number; lane: number }[] {
  const ticks: { at: number; lane: number }[] = [];
  for (const at of times)
    if (ticks.length === 0 || at - (ticks.at(-1)?.at ?? 0) > TICK_PX * secondsPerPixel) ticks.push({ at, lane });
  return ticks;
}

const axisWords = (at: number, [from, to]: [number, number]): string => {
  const iso = isoOfSeconds(at);
  return to - from > 3 * 86_400 ? iso.slice(0, 10) : `${iso.slice(8, 10)}. ${iso.slice(11, 16)}`;
};
