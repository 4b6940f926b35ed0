import { describe, expect, it } from 'vitest';
import { backupName, generationOf, outlived } from './generations';

const CATALOG = 'c0123456789a';
const stampOf = (text: string) => text.replace(/[-:]|(\.\d+)?Z$/g, '');
const named = (text: string, catalog = CATALOG) => {
  const generation = generationOf(backupName(catalog, stampOf(text)));
  if (!generation) throw new Error(text);
  return generation;
};

describe('generations of backups', () => {
  it('bear their catalog and their moment in their names', () => {
    expect(backupName(CATALOG, '20261130T200509')).toBe('c0123456789a-20261130T200509.jsonl.gz');
    expect(generationOf('c0123456789a-20261130T200509.jsonl.gz')).toEqual({
      name: 'c0123456789a-20261130T200509.jsonl.gz',
      catalog: CATALOG,
      stamp: '20261130T200509',
    });
    expect(
      ['x.gz', 'c0123456789a-2026.jsonl.gz', '../c0123456789a-20261130T200509.jsonl.gz'].map(generationOf),
    ).toEqual([null, null, null]);
  });

  it('the latest five stay, the last of each of twelve months, the last of each year; others’ are left alone', () => {
    const days = Array.from({ length: 900 }, (_, day) => named(new Date(Date.UTC(2024, 0, 1 + day)).toISOString()));
    const gone = new Set(outlived([...days, named('2020-05-05T00:00:00Z', 'c99999999999')], CATALOG));
    const stay = days.filter((one) => !gone.has(one)).map(({ stamp }) => stamp.slice(0, 8));
    expect(stay).toEqual([
      '20241231',
      ...['20250731', '20250831', '20250930', '20251031', '20251130', '20251231'],
      ...['20260131', '20260228', '20260331', '20260430', '20260531'],
      ...['20260614', '20260615', '20260616', '20260617', '20260618'],
    ]);
    expect([...gone].every(({ catalog }) => catalog === CATALOG)).toBe(true);
  });

  it('of few none goes', () => {
    expect(outlived([named('2026-01-01T00:00:00Z'), named('2026-01-02T00:00:00Z')], CATALOG)).toEqual([]);
  });
});
