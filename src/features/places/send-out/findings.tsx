'use client';

// What was found on looking at the photos: what stays, what is to be decided, what should be known.

import { Radio } from 'antd';
import Link from 'next/link';
import { type AskedFinding, FINDINGS, isAskedAbout, termsOfUse } from '@/core/send-out/delivery-plan';
import { findingSentence } from '@/messages/delivery';
import { count } from '@/ui/format';
import { findAddress, useScope } from '@/features/parts/search/use-scope';
import { useSelection } from '@/features/parts/selection/selection';
import styles from './send-out.module.css';
import type { Draft } from './use-draft';
import type { DeliveryAtHand } from './use-delivery-plan';

export function Findings({ planned, draft }: { planned: DeliveryAtHand; draft: Draft }) {
  const { findings } = planned.plan;
  if (findings.length === 0) return <p className="quiet">Nothing stands against it.</p>;
  return (
    <ul className={styles.findings} aria-label="Before it goes">
      {findings.map(({ finding, photoIds }) => (
        <li key={finding} data-weight={FINDINGS[finding]}>
          <p>
            {findingSentence(finding, photoIds.length)} <ShowThem photoIds={photoIds} />
          </p>
          {finding === 'terms' && <Terms planned={planned} photoIds={photoIds} />}
          {isAskedAbout(finding) ? (
            <Answer finding={finding} draft={draft} />
          ) : (
            <span className={styles.stays}>{FINDINGS[finding] === 'stays' ? 'not sent' : ''}</span>
          )}
        </li>
      ))}
    </ul>
  );
}

function Answer({ finding, draft }: { finding: AskedFinding; draft: Draft }) {
  return (
    <Radio.Group
      size="small"
      optionType="button"
      aria-label={`Photos of which this is so: ${finding}`}
      value={draft.answers[finding] ?? null}
      options={[
        { value: 'send', label: 'send' },
        { value: 'leave', label: 'leave out' },
      ]}
      onChange={({ target }) => draft.answer({ [finding]: target.value as 'send' | 'leave' })}
    />
  );
}

/** Selects exactly them and goes to the wall. */
function ShowThem({ photoIds }: { photoIds: readonly string[] }) {
  const { scope } = useScope();
  return (
    <Link href={findAddress(scope)} onClick={() => useSelection.setState({ ids: new Set(photoIds) })}>
      select
    </Link>
  );
}

const TERMS_SHOWN = 5;

/** Each wording once, with how many it binds. */
function Terms({ planned, photoIds }: { planned: DeliveryAtHand; photoIds: readonly string[] }) {
  const asked = new Set(photoIds);
  const numbers = new Map<string, number>();
  for (const { id, fields } of planned.photos)
    if (asked.has(id)) for (const text of termsOfUse(fields)) numbers.set(text, (numbers.get(text) ?? 0) + 1);
  const all = [...numbers].sort(([, a], [, b]) => b - a);
  return (
    <ul className={styles.terms}>
      {all.slice(0, TERMS_SHOWN).map(([text, number]) => (
        <li key={text}>
          “{text}” <span className="mono">{count(number)}</span>
        </li>
      ))}
      {all.length > TERMS_SHOWN && <li className="quiet">and {count(all.length - TERMS_SHOWN)} other wordings</li>}
    </ul>
  );
}
