// Safekeeping: drives against years, and what would be lost with a drive, over 100,000 photos on three drives that were
// read on three hundred different days; against SQLite (WebAssembly) over a table of the same copies, in the same run.

import initSqlJs from 'sql.js';
import { NO_FACTS } from '../src/core/fixity/drive-facts';
import type { Keeping } from '../src/core/fixity/keeping';
import { SearchIndex } from '../src/core/search/search-index';
import type { SearchRecord } from '../src/core/search/search-record';
import { DAY_MS } from '../src/core/time/captured';
import { randomFrom } from '../src/demo/paint/noise';
import { searchRecord } from '../tests/fixtures/records';

const PHOTOS = 100_000;
const DRIVES = ['studio', 'cellar', 'bank'];
const NOW = 20_600 * DAY_MS;
const RULE = { copies: 2, elsewhere: 1, verifiedWithinDays: 365 };
const ROUNDS = 15;

function median(once: () => void): number {
  const times = Array.from({ length: ROUNDS }, () => {
    const start = performance.now();
    once();
    return performance.now() - start;
  });
  return times.sort((a, b) => a - b)[Math.floor(ROUNDS / 2)] ?? 0;
}

export async function benchSafekeep(): Promise<void> {
  const random = randomFrom(20261130);
  const index = new SearchIndex();
  const db = new (await initSqlJs()).Database();
  db.run('CREATE TABLE copies (photo INT, year INT, drive TEXT, status TEXT, day INT); BEGIN');
  const insert = db.prepare('INSERT INTO copies VALUES (?, ?, ?, ?, ?)');
  for (let at = 0; at < PHOTOS; at++) {
    const year = 2004 + Math.floor(random() * 23);
    const onDrives = DRIVES.filter(() => random() < 0.7).map((driveId): SearchRecord['onDrives'][number] => {
      const day = Math.floor(NOW / DAY_MS) - Math.floor(random() * 300);
      const chance = random();
      const status = chance < 0.95 ? 'verified' : chance < 0.98 ? 'not-yet-read' : 'missing';
      insert.run([at, year, driveId, status, status === 'verified' ? day : null]);
      return { driveId, status, verifiedAt: status === 'verified' ? day * DAY_MS : null };
    });
    index.put({ ...searchRecord(String(at)), day: year * 10_000 + 704, onDrives });
  }
  insert.free();
  db.run('COMMIT; CREATE INDEX p ON copies (photo); CREATE INDEX d ON copies (drive, year); ANALYZE');
  index.knowTime(20260527, NOW);
  const keeping: Keeping = { rule: RULE, facts: new Map([['bank', { ...NO_FACTS, elsewhere: true }]]) };
  const since = NOW / DAY_MS - RULE.verifiedWithinDays;
  const own = [
    median(() => index.driveYears(RULE.verifiedWithinDays)),
    median(() => index.driveLoss('cellar', keeping)),
  ];
  const sqlite = [
    median(() =>
      db.exec(
        `SELECT drive, year, count(*), sum(status = 'verified' AND day > ${since}), sum(status = 'missing'), min(day) FROM copies GROUP BY 1, 2`,
      ),
    ),
    median(() =>
      db.exec(
        `SELECT count(*) FROM copies a WHERE drive = 'cellar' AND status != 'missing' AND NOT EXISTS (SELECT 1 FROM copies b WHERE b.photo = a.photo AND b.drive != 'cellar' AND b.status = 'verified')`,
      ),
    ),
  ];
  ['drives against years', 'what is lost with a drive'].forEach((name, at) =>
    console.log(
      `safekeep ${name}: ${own[at]?.toFixed(1)} ms; SQLite ${sqlite[at]?.toFixed(0)} ms, ${((sqlite[at] ?? 0) / (own[at] ?? 1)).toFixed(1)} times as long`,
    ),
  );
}
