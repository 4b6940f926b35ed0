'use client';

// Of a drive that is a store elsewhere: where it is, how it is kept there, how much is sent in a day, and its key sheet.

import { Button, InputNumber, Modal, Popconfirm } from 'antd';
import { useCallback, useEffect, useState } from 'react';
import type { DriveRecord } from '@/storage/catalog/records';
import { isStoreAddress } from '@/storage/connections/connections';
import type { StoreFacts } from '@/storage/host/protocol';
import { session } from '@/engine/session';
import { bytes } from '@/ui/format';
import { KeySheetView } from '@/features/parts/connecting/key-sheet';
import styles from './safekeep.module.css';

const GIGABYTE = 1_000_000_000;

interface Props {
  drive: DriveRecord;
  /** The server has forgotten it. */
  onForgotten: () => void;
}

export function StoreSection({ drive, onForgotten }: Props) {
  const { served } = drive;
  const folder = served && isStoreAddress(served.path) ? served.folder : null;
  const { facts, setShare } = useStoreFacts(folder);
  const [identity, setIdentity] = useState<string | null>(null);
  if (!folder || !facts) return null;
  const forget = async (id: string) => {
    await session.host?.ask('forget', { folder: id });
    await session.drives.reconnect(drive.id);
    onForgotten();
  };
  const show = async () => setIdentity((await session.host?.ask('storeKey', { folder }))?.identity ?? null);
  return (
    <section aria-label="The store" className={styles.facts}>
      <span>address</span>
      <span className="mono">{facts.endpoint}</span>
      <span>bucket</span>
      <span className="mono">{[facts.bucket, facts.prefix].filter(Boolean).join('/')}</span>
      <span>kept there</span>
      <span>
        {facts.isSealed ? 'sealed with age' : 'as it is, not sealed'}{' '}
        {facts.isSealed && (
          <Button size="small" onClick={() => void show()}>
            Key sheet…
          </Button>
        )}
      </span>
      <label htmlFor="store-share">a day at most</label>
      <span>
        <InputNumber
          id="store-share"
          size="small"
          style={{ width: 160 }}
          min={0.1}
          max={100_000}
          step={1}
          placeholder="all there is"
          value={facts.dailyBytes === null ? null : facts.dailyBytes / GIGABYTE}
          onChange={(value) => void setShare(value === null ? null : Math.round(value * GIGABYTE))}
          suffix="GB"
        />
        {facts.dailyBytes !== null && <span className="quiet"> {bytes(facts.sentToday)} sent today</span>}
      </span>
      <span />
      <span>
        <Popconfirm
          title="Reach it no longer?"
          description={`The server forgets its address and keys${facts.isSealed ? ', the one it is sealed by too: have the sheet or the passphrase' : ''}. What is in the store is not touched; connect it again to reach it.`}
          okText="Forget the keys"
          cancelText="No"
          onConfirm={() => void forget(folder)}
        >
          <Button size="small">Reach it no longer…</Button>
        </Popconfirm>
      </span>
      <Modal
        open={identity !== null}
        onCancel={() => setIdentity(null)}
        footer={null}
        width={620}
        title="Key sheet"
        destroyOnHidden
      >
        {identity !== null && <KeySheetView {...facts} identity={identity} />}
      </Modal>
    </section>
  );
}

/** As the server keeps them. */
function useStoreFacts(folder: string | null) {
  const [facts, setFacts] = useState<StoreFacts | null>(null);
  const ask = useCallback(async () => {
    const { host } = session;
    if (folder && host) setFacts(await host.ask('storeFacts', { folder }).catch(() => null));
  }, [folder]);
  useEffect(() => {
    const timer = setTimeout(() => void ask());
    return () => clearTimeout(timer);
  }, [ask]);
  const setShare = async (dailyBytes: number | null) => {
    if (folder) await session.host?.ask('setShare', { folder, dailyBytes });
    await ask();
  };
  return { facts, setShare };
}
