'use client';

// Drives against years: which share of each year's photos is as it should be, and where. Every cell is a search.

import Link from 'next/link';
import { driveFactsOf, isInUse, type Keeping } from '@/core/fixity/keeping';
import { joinedConditions, quoted } from '@/core/query/write-scope';
import type { DriveYears, YearOnDrive, YearSafety } from '@/core/search/drive-years';
import { STANDING_WORDS, yearOnDriveSentence, yearSentence } from '@/messages/safekeep';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { count, dayWords } from '@/ui/format';
import { findAddress } from '@/features/parts/search/use-scope';
import { useAsked } from '@/features/parts/session/use-asked';
import { useSession } from '@/features/parts/session/use-session';
import { type YearColumn, columnLabel, columnScope, inColumn, yearColumns } from './year-columns';
import styles from './safekeep.module.css';

const QUIET_MS = 300;

export function useDriveYears({ rule }: Keeping): DriveYears | null {
  const within = rule.verifiedWithinDays;
  return useAsked(`driveYears ${within}`, () => session.search.driveYears(within), QUIET_MS)?.answer ?? null;
}

interface Props {
  drives: readonly DriveRecord[];
  keeping: Keeping;
  years: DriveYears;
  onDrive: (driveId: string) => void;
}

export function YearsPicture({ drives, keeping, years, onDrive }: Props) {
  const connections = useSession((state) => state.connections);
  const columns = yearColumns([...years.all.keys()]);
  const rows = [...drives].sort((a, b) => Number(isInUse(keeping, b.id)) - Number(isInUse(keeping, a.id)));
  return (
    <div className={styles.picture}>
      <table>
        <caption className="visually-hidden">How the photos of each year stand, in all and on each drive</caption>
        <thead>
          <tr>
            <td />
            {columns.map((column) => (
              <th key={column.from} scope="col" data-gap={column.isGap}>
                <ColumnHead label={columnLabel(column)} />
              </th>
            ))}
            <th scope="col">read last</th>
          </tr>
        </thead>
        <tbody>
          <tr className={styles.allRow}>
            <th scope="row">All photos</th>
            {columns.map((column) => (
              <AllCell key={column.from} column={column} years={inColumn(years.all, column)} />
            ))}
            <td />
          </tr>
          <tr>
            <th scope="row" className="quiet">
              verified copies
            </th>
            {columns.map((column) => (
              <CopiesCell key={column.from} column={column} years={inColumn(years.all, column)} />
            ))}
            <td />
          </tr>
          {rows.map((drive) => {
            const own = years.drives.get(drive.id);
            const facts = driveFactsOf(keeping, drive.id);
            const isHere = connections[drive.id]?.state === 'connected';
            return (
              <tr key={drive.id} data-standing={facts.standing}>
                <th scope="row">
                  <button type="button" className={styles.driveName} onClick={() => onDrive(drive.id)}>
                    {drive.name}
                  </button>
                  <span className="quiet">
                    {[
                      facts.standing === 'in-use' ? (isHere ? '' : 'away') : STANDING_WORDS[facts.standing],
                      facts.place,
                      facts.elsewhere ? 'elsewhere' : '',
                    ]
                      .filter((word) => word !== '')
                      .join(' · ')}
                  </span>
                </th>
                {columns.map((column) => (
                  <DriveCell key={column.from} drive={drive} column={column} years={inColumn(own, column)} />
                ))}
                <td className={styles.readLast}>{readLast(own)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className={styles.legend}>
        <span>
          <i data-level="safe" /> as it should be
        </span>
        <span>
          <i data-level="caution" /> to be read again, or never read
        </span>
        <span>
          <i data-level="attention" /> not safe; damaged, missing, in doubt
        </span>
      </p>
    </div>
  );
}

function readLast(own: ReadonlyMap<number, YearOnDrive> | undefined): string {
  const oldest = Math.min(...[...(own?.values() ?? [])].map((year) => year.oldest ?? Infinity));
  return Number.isFinite(oldest) ? dayWords(oldest) : own ? 'never' : '';
}

const sumOf = <K extends string>(years: readonly Record<K, number>[], key: K): number =>
  years.reduce((sum, year) => sum + year[key], 0);

function AllCell({ column, years }: { column: YearColumn; years: readonly YearSafety[] }) {
  const photos = sumOf(years, 'photos');
  if (photos === 0) return <td />;
  const [safe, overdue] = [sumOf(years, 'safe'), sumOf(years, 'overdue')];
  const whole: YearSafety = {
    photos,
    safe,
    overdue,
    fewCopies: sumOf(years, 'fewCopies'),
    noneElsewhere: sumOf(years, 'noneElsewhere'),
    problems: sumOf(years, 'problems'),
    fewest: Math.min(...years.map(({ fewest }) => fewest)),
    most: Math.max(...years.map(({ most }) => most)),
  };
  return (
    <Cell
      scope={joinedConditions(columnScope(column), safe === photos ? '' : 'safe:no')}
      label={`${columnLabel(column)}: ${yearSentence(whole)}`}
      parts={{ safe, caution: overdue, attention: photos - safe - overdue }}
    />
  );
}

function CopiesCell({ column, years }: { column: YearColumn; years: readonly YearSafety[] }) {
  if (years.length === 0) return <td />;
  const fewest = Math.min(...years.map((year) => year.fewest));
  const most = Math.max(...years.map((year) => year.most));
  const words = fewest === most ? String(fewest) : `${fewest}–${most}`;
  return (
    <td className={styles.copiesCell}>
      <Link
        href={findAddress(joinedConditions(columnScope(column), `copies:${fewest}`))}
        aria-label={`${words} verified copies, ${columnLabel(column)}`}
      >
        {words}
      </Link>
    </td>
  );
}

function DriveCell({
  drive,
  column,
  years,
}: {
  drive: DriveRecord;
  column: YearColumn;
  years: readonly YearOnDrive[];
}) {
  const photos = sumOf(years, 'photos');
  if (photos === 0) return <td />;
  const readings = years.flatMap(({ oldest }) => oldest ?? []);
  const whole: YearOnDrive = {
    photos,
    fresh: sumOf(years, 'fresh'),
    overdue: sumOf(years, 'overdue'),
    unread: sumOf(years, 'unread'),
    problems: sumOf(years, 'problems'),
    oldest: readings.length > 0 ? Math.min(...readings) : null,
  };
  return (
    <Cell
      scope={joinedConditions(`drive=${quoted(drive.name)}`, columnScope(column))}
      label={`${drive.name}, ${columnLabel(column)}: ${yearOnDriveSentence(whole, dayWords)}`}
      parts={{ safe: whole.fresh, caution: whole.overdue + whole.unread, attention: whole.problems }}
    />
  );
}

interface CellProps {
  scope: string;
  label: string;
  parts: Record<'safe' | 'caution' | 'attention', number>;
}

/** The shares above each other; what asks for attention is always to be seen, however few it are. */
function Cell({ scope, label, parts }: CellProps) {
  return (
    <td>
      <Link href={findAddress(scope)} className={styles.cell} aria-label={label} title={label}>
        {(['attention', 'caution', 'safe'] as const).map(
          (level) => parts[level] > 0 && <i key={level} data-level={level} style={{ flexGrow: parts[level] }} />,
        )}
        {parts.attention > 0 && <b aria-hidden>{count(parts.attention)}</b>}
      </Link>
    </td>
  );
}

/** Where it is narrow, the last two digits of a year have to do. */
const ColumnHead = ({ label }: { label: string }) =>
  /^\d{4}$/.test(label) ? (
    <>
      <span className={styles.century}>{label.slice(0, 2)}</span>
      {label.slice(2)}
    </>
  ) : (
    label
  );
