// The card that waits: two folders, three parts of one day's shoot, undescribed. Its first frames were taken in already.

import type { Shoot } from './shoot';

type Row = Omit<Shoot, 'drive' | 'described' | 'by' | 'camera'>;
const WALK = { lens: 'walk' } as const;

const ROWS: Row[] = [
  { ...WALK, folder: 'DCIM/104NORDA', first: 9962, at: '2026-08-29 20:01:10', place: 'gjogv', motif: 'harbour', views: '1 1p 2n', sky: 'fair', facing: 300 },
  { ...WALK, folder: 'DCIM/104NORDA', first: 9966, at: '2026-08-30 08:14:02', place: 'gjogv', motif: 'shore', views: '1 3n 1p 4m 1', sky: 'fair', facing: 40, pace: 3 },
  { ...WALK, folder: 'DCIM/104NORDA', first: 9976, at: '2026-08-30 09:20:31', place: 'gjogv', motif: 'sound', views: '1 3b 2n 3b 1d', sky: 'fair', facing: 60, pace: 4 },
  { ...WALK, folder: 'DCIM/104NORDA', first: 9986, at: '2026-08-30 10:02:31', place: 'gjogv', motif: 'sheep', views: '1 4m 1p 3m 1x', sky: 'broken', facing: 170, pace: 5 },
  { lens: 'tele', folder: 'DCIM/105NORDA', first: 9996, at: '2026-08-30 13:35:00', place: 'funningur', motif: 'ferry', views: '1 5m 1s', sky: 'broken', facing: 330 },
  { lens: 'macro', folder: 'DCIM/105NORDA', first: 4, at: '2026-08-30 14:48:00', place: 'funningur', motif: 'nets', views: '1 2n 1p 3n', sky: 'broken', pace: 2 },
  { lens: 'macro', folder: 'DCIM/105NORDA', first: 11, at: '2026-08-30 15:20:00', place: 'funningur', motif: 'ropes', views: '1 3n 1', sky: 'broken', pace: 2 },
  { ...WALK, folder: 'DCIM/105NORDA', first: 16, at: '2026-08-30 16:10:00', place: 'funningur', motif: 'boathouses', views: '1 3b 3n 1p 1o', sky: 'fair', facing: 250 },
  { lens: 'wide', folder: 'DCIM/105NORDA', first: 25, at: '2026-08-30 18:02:40', place: 'funningur', motif: 'heights', views: '4w 2n', sky: 'clear', facing: 280 },
  { ...WALK, folder: 'DCIM/105NORDA', first: 31, at: '2026-08-30 19:40:55', place: 'gjogv', motif: 'sound', views: '1 3b 4n 1p', sky: 'fair', facing: 300, pace: 3 },
  { ...WALK, folder: 'DCIM/105NORDA', first: 40, at: '2026-08-30 20:31:20', place: 'gjogv', motif: 'lighthouse', views: '1 3b 1p', sky: 'clear', facing: 320 },
];

export const CARD: Shoot[] = ROWS.map((row) => ({ ...row, drive: 'card', camera: 'k4', by: 'holt', described: 'none' }));
