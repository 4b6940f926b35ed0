// Notes, in the same transaction, which photos a write touches whose search record depends on it. What is noted since
// the index was kept is read anew when the catalog is opened, so that a kept index is never behind the database,
// wherever the page was closed.

import type Dexie from 'dexie';
import type { DBCore, DBCoreMutateRequest, DBCoreTable } from 'dexie';
import { FACTS_PREFIX, RULE_SETTING } from '@/core/fixity/keeping';
import type { UnindexedRecord } from './records';

const LOG = 'unindexed';

/** Stands for all drives: what holds for every photo is another. */
export const EVERY_DRIVE = '*';

interface Touched {
  photoIds?: readonly unknown[];
  driveIds?: readonly unknown[];
}

interface Write {
  /** What stood there before: of what is deleted, and of files and drives that are written over. */
  old: readonly unknown[];
  /** What stands there now. */
  values: readonly unknown[];
  /** What was deleted. */
  keys: readonly unknown[];
}

const met = ({ old, values }: Write) => [...old, ...values];

/** Which photos a write touches; whole drives for their names. */
const TOUCHES: Record<string, (write: Write) => Touched> = {
  photos: (write) => ({ photoIds: [...met(write).map(part('id')), ...write.keys] }),
  files: (write) => ({ photoIds: met(write).map(part('photoId')) }),
  leftOut: (write) => ({ photoIds: [...met(write).map(part('id')), ...write.keys] }),
  largePreviews: (write) => ({ photoIds: [...met(write).map(part('photoId')), ...write.keys] }),
  measures: (write) => ({ photoIds: [...met(write).map(part('photoId')), ...write.keys] }),
  overlaps: (write) => ({ photoIds: met(write).map(part('a')) }),
  deliveries: (write) => ({ photoIds: met(write).flatMap((value) => (value as { photoIds: string[] }).photoIds) }),
  drives: ({ old, values }) => ({ driveIds: renamed(old, values) }),
  settings: ({ values }) => ({ driveIds: values.map(part('id')).flatMap(drivesOfSetting) }),
};

/** What is said of a drive counts for the photos on it; the rule of safekeeping for all. */
function drivesOfSetting(id: unknown): string[] {
  if (typeof id !== 'string') return [];
  if (id === RULE_SETTING) return [EVERY_DRIVE];
  return id.startsWith(FACTS_PREFIX) ? [id.slice(FACTS_PREFIX.length)] : [];
}

/** Drives that have another name than before: of most writes (room left, last scan) no photo needs to hear. */
function renamed(old: readonly unknown[], values: readonly unknown[]): unknown[] {
  const names = new Map(old.map((value) => [part('id')(value), part('name')(value)]));
  return values.filter((value) => names.get(part('id')(value)) !== part('name')(value)).map(part('id'));
}

const part =
  (key: string) =>
  (value: unknown): unknown =>
    typeof value === 'object' && value !== null ? (value as Record<string, unknown>)[key] : undefined;
const texts = (values: readonly unknown[] = []): string[] => [
  ...new Set(values.filter((value): value is string => typeof value === 'string')),
];

export function noteUnindexed(db: Dexie): void {
  db.use({
    stack: 'dbcore',
    name: LOG,
    create: (core) => ({ ...core, transaction: withLog(core), table: (name) => noting(core, name) }),
  });
}

const withLog =
  (core: DBCore): DBCore['transaction'] =>
  (stores, mode, options) =>
    core.transaction(
      mode === 'readwrite' &&
        !stores.includes(LOG) &&
        stores.some((store) => Object.hasOwn(TOUCHES, store)) &&
        core.schema.tables.some(({ name }) => name === LOG)
        ? [...stores, LOG]
        : stores,
      mode,
      options,
    );

function noting(core: DBCore, name: string): DBCoreTable {
  const table = core.table(name);
  const touches = Object.hasOwn(TOUCHES, name) ? TOUCHES[name] : undefined;
  if (!touches) return table;
  return {
    ...table,
    mutate: (request) => {
      const { trans } = request;
      if ((trans as unknown as IDBTransaction).mode !== 'readwrite') return table.mutate(request); // the catalog is being brought to a newer version
      return before(table, request).then((old: readonly unknown[]) =>
        table.mutate(request).then((answer) => {
          const touched = touches({
            old,
            values: 'values' in request ? request.values : [],
            keys: request.type === 'delete' ? request.keys : [],
          });
          const record: UnindexedRecord = { photoIds: texts(touched.photoIds), driveIds: texts(touched.driveIds) };
          if (record.photoIds.length === 0 && record.driveIds.length === 0) return answer;
          return core
            .table(LOG)
            .mutate({ type: 'add', trans, values: [record] })
            .then(() => answer);
        }),
      );
    },
  };
}

function before(table: DBCoreTable, request: DBCoreMutateRequest): Promise<readonly unknown[]> {
  const { trans } = request;
  if (request.type === 'delete') return table.getMany({ trans, keys: request.keys });
  if (request.type === 'deleteRange')
    return table
      .query({ trans, values: true, query: { index: table.schema.primaryKey, range: request.range } })
      .then(({ result }) => result);
  if (request.type === 'put' && (table.name === 'files' || table.name === 'drives'))
    return table.getMany({ trans, keys: request.values.map(part('id')) });
  return Promise.resolve([]);
}
