'use client';

import { Input, type InputRef } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { parseScope } from '@/core/scope/scope';
import { useKeys } from '@/ui/keys';
import styles from './scope.module.css';
import { useScope } from './use-scope';

/** The line that states the scope and takes the query; every letter typed narrows at once. */
export function ScopeLine() {
  const { scope, setScope } = useScope();
  const [typed, setTyped] = useState(scope);
  const sent = useRef(scope);
  const input = useRef<InputRef>(null);

  useEffect(() => {
    if (scope !== sent.current) setTyped(scope);
    sent.current = scope;
  }, [scope]);
  useKeys({ '/': () => input.current?.focus({ cursor: 'all' }) });

  const take = (text: string) => {
    setTyped(text);
    sent.current = text;
    setScope(text);
  };
  const { notUnderstood } = parseScope(typed);
  return (
    <div className={styles.line} role="search">
      <Input
        ref={input}
        value={typed}
        onChange={(event) => take(event.target.value)}
        onKeyDown={(event) => event.key === 'Escape' && input.current?.blur()}
        allowClear
        placeholder="All photos. Type words, or taken:2019-07..2021 rating:3.. camera:… drive:…"
        aria-label="Scope"
        aria-describedby="scope-remark"
        status={notUnderstood.length > 0 ? 'warning' : ''}
      />
      <span id="scope-remark" className={styles.remark}>{notUnderstood.length > 0 && `Not understood, so left out: ${notUnderstood.join(' ')}`}</span>
    </div>
  );
}
