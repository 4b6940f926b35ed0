// The tracks of six days, as the receiver in the photographers' pocket wrote them: GPX 1.1 in UTC, through the places
// where the day's photos were taken, with a gap where it saw no sky.

import { randomFrom } from '../paint/noise';
import { positionOf } from './exif-block';
import { SHOOTS } from './shoots';
import { type DriveKey, type Shoot, takenAt, viewsOf } from './shoot';

interface Day {
  day: string;
  drive: DriveKey;
  folder: string;
  name: string;
  /** Share of the way during which nothing was received. */
  gap?: [from: number, to: number];
  /** Where the day began: a ferry landing, a car park. */
  from: { lat: number; lon: number; minutes: number };
}

const DAYS: Day[] = [
  {
    day: '2019-07-04',
    drive: 'harbour',
    folder: '2019/2019-07-04 Klaksvík slip',
    name: 'Klaksvík, on foot',
    from: { lat: 62.2236, lon: -6.5861, minutes: 35 },
  },
  {
    day: '2021-06-18',
    drive: 'studio',
    folder: '2021/2021-06-18 Mykines',
    name: 'Sørvágur to Mykines by boat, then on foot',
    from: { lat: 62.0712, lon: -7.3081, minutes: 70 },
    gap: [0.42, 0.5],
  },
  {
    day: '2023-03-25',
    drive: 'studio',
    folder: '2023/2023-03-25 Suðuroy',
    name: 'Tórshavn to Tvøroyri by ferry',
    from: { lat: 62.0069, lon: -6.7668, minutes: 125 },
    gap: [0.3, 0.36],
  },
  {
    day: '2023-03-26',
    drive: 'studio',
    folder: '2023/2023-03-26 Suðuroy',
    name: 'Suðuroy, south end',
    from: { lat: 61.556, lon: -6.803, minutes: 50 },
  },
  {
    day: '2025-06-14',
    drive: 'studio',
    folder: '2025/2025-06-14 Crossing',
    name: 'Gamlarætt to Skopun by ferry',
    from: { lat: 61.9616, lon: -6.8145, minutes: 40 },
  },
  {
    day: '2026-08-30',
    drive: 'studio',
    folder: '2026/2026-08-29 Gjógv',
    name: 'Gjógv and Funningur',
    from: { lat: 62.3262, lon: -6.9441, minutes: 30 },
    gap: [0.55, 0.63],
  },
];

interface Fix {
  at: number;
  lat: number;
  lon: number;
}

const dayOf = (shoot: Shoot) => shoot.at.slice(0, 10);

/** Where the photographer was, and when, by all photos of that day. */
function stops({ day, from }: Day): Fix[] {
  const list = SHOOTS.filter((shoot) => dayOf(shoot) === day)
    .flatMap((shoot) =>
      viewsOf(shoot).flatMap((view) => {
        // they stand still for all frames of a view
        const times = [view.frames[0], view.frames.at(-1)].flatMap(
          (frame) => takenAt(shoot, view, frame ?? 0)?.utc.getTime() ?? [],
        );
        return [...new Set(times)].map((at) => ({ at, ...positionOf(shoot, view) }));
      }),
    )
    .sort((a, b) => a.at - b.at);
  const first = list[0];
  if (!first) throw new Error(`no photos on ${day}`);
  return [{ at: first.at - from.minutes * 60_000, lat: from.lat, lon: from.lon }, ...list];
}

const EVERY_MS = 12_000;

function fixes(day: Day): Fix[] {
  const way = stops(day);
  const random = randomFrom(Number(day.day.replaceAll('-', '')));
  const out: Fix[] = [];
  const start = way[0]!;
  const end = way.at(-1)!;
  // the receiver notes where it is every twelve seconds, and wherever it is stood still with
  const moments = new Set(way.map(({ at }) => at));
  for (let at = start.at; at <= end.at; at += EVERY_MS) moments.add(at);
  let leg = 0;
  for (const at of [...moments].sort((a, b) => a - b)) {
    while (leg + 2 < way.length && way[leg + 1]!.at < at) leg += 1;
    const [a, b] = [way[leg]!, way[leg + 1]!];
    const t = Math.min(1, (at - a.at) / Math.max(1, b.at - a.at));
    // nobody walks in a straight line, and the receiver errs by a couple of metres
    const wander = Math.sin(t * Math.PI) * Math.sin(t * 7 + leg) * 0.06;
    out.push({
      at,
      lat: a.lat + (b.lat - a.lat) * t + (b.lon - a.lon) * wander * 0.5 + (random() - 0.5) * 0.000024,
      lon: a.lon + (b.lon - a.lon) * t - (b.lat - a.lat) * wander + (random() - 0.5) * 0.00004,
    });
  }
  return out;
}

export interface DemoTrack {
  drive: DriveKey;
  path: string;
  gpx: string;
}

export function tracks(): DemoTrack[] {
  return DAYS.map((day) => {
    const all = fixes(day);
    const [from, to] = day.gap ?? [1, 1];
    const parts = [all.slice(0, Math.floor(all.length * from)), all.slice(Math.floor(all.length * to))].filter(
      (part) => part.length > 0,
    );
    const point = ({ at, lat, lon }: Fix) =>
      `      <trkpt lat="${lat.toFixed(6)}" lon="${lon.toFixed(6)}"><time>${new Date(at).toISOString().slice(0, 19)}Z</time></trkpt>`;
    const segments = parts.map((part) => `    <trkseg>\n${part.map(point).join('\n')}\n    </trkseg>`).join('\n');
    const gpx = `<?xml version="1.0" encoding="UTF-8"?>\n<gpx version="1.1" creator="Leið 3 receiver" xmlns="http://www.topografix.com/GPX/1/1">\n  <trk>\n    <name>${day.name}</name>\n${segments}\n  </trk>\n</gpx>\n`;
    return { drive: day.drive, path: `${day.folder}/${day.day}.gpx`, gpx };
  });
}
