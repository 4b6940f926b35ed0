'use client';

// Bags: photos handed on for decades in a form that archives know, and bags of anybody checked.

import { Button, Input, Radio, Select } from 'antd';
import { useId, useState } from 'react';
import { z } from 'zod';
import { joinedPath } from '@/core/names/file-names';
import { legalName } from '@/core/names/legal';
import type { BagAsked, DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { count, today } from '@/ui/format';
import { keptChoice } from '@/ui/kept-choice';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { useResult } from '@/features/parts/search/use-result';
import { useSelection } from '@/features/parts/selection/selection';
import { useKeeping, useSession } from '@/features/parts/session/use-session';
import { isInUse } from '@/core/fixity/keeping';
import { CheckBag } from './check-bag';
import styles from './safekeep.module.css';

/** Folder of a drive that bags are made in, unless the person says another. */
const BAGS_FOLDER = 'bags';

const saidSchema = z.object({
  algorithm: z.enum(['sha256', 'sha512']),
  organization: z.string(),
  contact: z.string(),
});
/** What is the same from bag to bag. */
const useSaid = keptChoice<z.infer<typeof saidSchema>>('wembo-bags', saidSchema, {
  algorithm: 'sha256',
  organization: '',
  contact: '',
});

export function BagPanel({ drives }: { drives: readonly DriveRecord[] }) {
  const last = useJobs()
    .filter(({ kind }) => kind === 'bag')
    .slice(0, 1);
  return (
    <section className={styles.panel} aria-label="Bags" id="bags">
      <header>
        <h2>Bags</h2>
      </header>
      <p className="quiet">
        A folder with originals, sidecars, checksums, a table and all that is known of them, in a form that archives
        know (BagIt, RFC 8493). It is handed on as it is: what lies in it is no copy of the catalog.
      </p>
      <MakeBag drives={drives} />
      {last.length > 0 && <JobsList jobs={last} none="" />}
      <CheckBag drives={drives} />
    </section>
  );
}

function MakeBag({ drives }: { drives: readonly DriveRecord[] }) {
  const said = useSaid();
  const selected = useSelection((state) => state.ids);
  const order = useResult((state) => state.result?.order);
  const connections = useSession((state) => state.connections);
  const keeping = useKeeping();
  const [ofSelection, setOfSelection] = useState(selected.size > 0);
  const [name, setName] = useState(`${today()} bag`);
  const [description, setDescription] = useState('');
  const [driveId, setDriveId] = useState<string | null>(null);
  const here = drives.filter(
    ({ id, access }) => connections[id]?.state === 'connected' && access === 'write' && isInUse(keeping, id),
  );
  const isOfSelection = ofSelection && selected.size > 0;
  const size = isOfSelection ? selected.size : (order?.length ?? 0);
  const folder = joinedPath(BAGS_FOLDER, legalName(name));
  const begin = () => {
    if (!driveId) return;
    const photoIds = isOfSelection ? [...selected] : (order?.all() ?? []);
    const asked: BagAsked = { ...said, name: name.trim(), folder, description };
    void session.startBag(driveId, photoIds, asked);
  };
  return (
    <div className={styles.form}>
      <Radio.Group
        aria-label="Photos of the bag"
        value={isOfSelection}
        onChange={(event) => setOfSelection(event.target.value as boolean)}
      >
        <Radio value disabled={selected.size === 0}>
          the selection ({count(selected.size)})
        </Radio>
        <Radio value={false}>the search ({count(order?.length ?? 0)})</Radio>
      </Radio.Group>
      <div className={styles.facts}>
        <Field label="Name" value={name} onChange={setName} />
        <Field label="Description" value={description} onChange={setDescription} lines />
        <Field
          label="Organization"
          value={said.organization}
          onChange={(organization) => useSaid.setState({ organization })}
        />
        <Field label="Contact" value={said.contact} onChange={(contact) => useSaid.setState({ contact })} />
        <label htmlFor="bag-sums">Checksums</label>
        <Select
          id="bag-sums"
          size="small"
          value={said.algorithm}
          onChange={(algorithm) => useSaid.setState({ algorithm })}
          options={[
            { value: 'sha256', label: 'SHA-256' },
            { value: 'sha512', label: 'SHA-512' },
          ]}
        />
        <label htmlFor="bag-drive">On</label>
        <Select
          id="bag-drive"
          size="small"
          placeholder="drive"
          value={driveId}
          onChange={setDriveId}
          options={here.map(({ id, name: label }) => ({ value: id, label }))}
        />
      </div>
      <div className={styles.acts}>
        <Button size="small" disabled={!driveId || size === 0 || name.trim() === ''} onClick={begin}>
          Make the bag
        </Button>
        <span className="quiet">
          into <span className="mono">{folder}</span>
        </span>
      </div>
    </div>
  );
}

function Field({
  label,
  value,
  onChange,
  lines = false,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  lines?: boolean;
}) {
  const id = useId();
  const same = { id, value, size: 'small' as const };
  return (
    <>
      <label htmlFor={id}>{label}</label>
      {lines ? (
        <Input.TextArea {...same} autoSize={{ maxRows: 5 }} onChange={({ target }) => onChange(target.value)} />
      ) : (
        <Input {...same} onChange={({ target }) => onChange(target.value)} />
      )}
    </>
  );
}
