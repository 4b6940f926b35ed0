'use client';

import { Button, Select } from 'antd';
import { z } from 'zod';
import { NEW_SHEET, type Routine } from '@/core/take-in/sheet';
import { useLive } from '@/storage/catalog/live';
import { SmallCard } from '@/ui/small-card';
import { keptChoice } from '@/ui/kept-choice';
import { NameInput } from '@/ui/name-input';
import { session } from '@/engine/session';
import { useTakeIn } from './take-in-state';
import styles from './take-in.module.css';

/** The routine that was used last, to be offered by name next time. */
export const useLastRoutine = keptChoice<{ id: string | null }>(
  'wembo-routine',
  z.object({ id: z.string().nullable() }),
  {
    id: null,
  },
);

/** The whole sheet kept under a name. The one used last is offered; nothing is applied unseen. */
export function RoutineLine() {
  const { sheet: asItIs, usual, routineId } = useTakeIn();
  const sheet = { ...asItIs, ...usual }; // a routine goes to no single shoot
  const routines =
    useLive(async () =>
      (await session.db.routines.toArray())
        .filter(({ deleted }) => !deleted)
        .sort((a, b) => a.name.localeCompare(b.name)),
    ) ?? [];
  const { id: last } = useLastRoutine();
  const current = routines.find(({ id }) => id === routineId);
  const offered = current ? undefined : routines.find(({ id }) => id === last);
  const changed = current && JSON.stringify(current.sheet) !== JSON.stringify(sheet);
  const use = (routine: Routine) => useTakeIn.setState({ sheet: routine.sheet, usual: null, routineId: routine.id });
  const keep = (name: string) => {
    void session.keep('routines', { name, sheet }).then((id) => id !== null && useTakeIn.setState({ routineId: id }));
  };
  return (
    <div className={styles.routine} role="group" aria-label="Routine">
      {routines.length === 0 ? (
        <span className="quiet">No routine is kept yet: the whole sheet can be kept under a name.</span>
      ) : (
        <label htmlFor="take-in-routine">Routine</label>
      )}
      {routines.length > 0 && (
        <Select
          id="take-in-routine"
          size="small"
          value={current?.id ?? null}
          placeholder="choose"
          style={{ minWidth: 190 }}
          options={routines.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id: string) => {
            const routine = routines.find((one) => one.id === id);
            if (routine) use(routine);
          }}
        />
      )}
      {offered && (
        <Button size="small" onClick={() => use(offered)}>
          Use “{offered.name}”, as last time
        </Button>
      )}
      {current && changed && (
        <Button size="small" onClick={() => void session.changeKept('routines', current, { sheet })}>
          Update the routine
        </Button>
      )}
      <span className={styles.push} />
      {current && (
        <Button
          size="small"
          type="text"
          onClick={() => {
            void session.changeKept('routines', current, { deleted: true });
            useTakeIn.setState({ routineId: null });
          }}
        >
          Remove
        </Button>
      )}
      <SmallCard placement="bottomRight" content={<NameInput label="Name of the routine" onName={keep} />}>
        <Button size="small" type="text">
          Keep as a routine
        </Button>
      </SmallCard>
      <Button
        size="small"
        type="text"
        onClick={() => useTakeIn.setState({ sheet: NEW_SHEET, usual: null, routineId: null })}
      >
        Start blank
      </Button>
    </div>
  );
}
