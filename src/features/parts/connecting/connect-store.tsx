'use client';

// Connecting a store elsewhere: where it is and what opens it; what lies there; whether it is to be sealed, and by
// what; and the sheet with its key. From there on it is connected as any drive.

import { Alert, App, Button, Checkbox, Input, Modal, Radio } from 'antd';
import { useEffect, useState } from 'react';
import { foundStoreSentence } from '@/messages/store';
import { problemSentence } from '@/messages/problems';
import { DriveError } from '@/storage/drives/drive';
import type { HostClient } from '@/storage/host/host-client';
import {
  type FoundStore,
  type HostOrder,
  PASSPHRASE_LENGTH,
  type ServedFolder,
  type StoreAddress,
  storeAddress,
} from '@/storage/host/protocol';
import { session } from '@/engine/session';
import { useAskedStore } from './asked-store';
import { offerFolder } from './connect-drive';
import { KeySheetView } from './key-sheet';
import styles from './connecting.module.css';

type Sealing = HostOrder<'serveStore'>['sealing'];

/** What is asked next. */
type Step =
  | { at: 'address' }
  | { at: 'found'; store: StoreAddress; found: FoundStore }
  | { at: 'sheet'; store: StoreAddress; served: ServedFolder; identity: string; hasPassphrase: boolean };

/** Mounted once, in the frame. */
export function ConnectStore() {
  const { isAsked } = useAskedStore();
  const { host } = session;
  const close = () => useAskedStore.setState({ isAsked: false });
  return (
    <Modal open={isAsked} onCancel={close} footer={null} width={620} title="A store elsewhere" destroyOnHidden>
      {isAsked && (host ? <Steps host={host} onDone={close} /> : <NoHost />)}
    </Modal>
  );
}

const NoHost = () => (
  <p>
    A store is reached by the server of this application, which keeps what opens it. It does not know this page: open
    Wembo by the link that it printed at its start.
  </p>
);

function Steps({ host, onDone }: { host: HostClient; onDone: () => void }) {
  const { message } = App.useApp();
  const [step, setStep] = useState<Step>({ at: 'address' });
  const [problem, setProblem] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  const trying = async (act: () => Promise<void>) => {
    setBusy(true);
    setProblem(null);
    try {
      await act();
    } catch (error) {
      setProblem(storeProblem(error));
    } finally {
      setBusy(false);
    }
  };
  const connect = async (served: ServedFolder) => {
    onDone();
    await offerFolder({ served, host }, message);
  };
  const look = (store: StoreAddress) =>
    trying(async () => setStep({ at: 'found', store, found: await host.ask('lookAtStore', { store }) }));
  const serve = (store: StoreAddress, sealing: Sealing) =>
    trying(async () => {
      const { served, identity } = await host.ask('serveStore', { store, sealing });
      if (identity === null) return connect(served);
      const hasPassphrase = sealing.how === 'new' && sealing.passphrase !== null;
      setStep({ at: 'sheet', store, served, identity, hasPassphrase });
    });
  return (
    <div className={styles.browser}>
      {step.at === 'address' && <AddressForm host={host} isBusy={isBusy} onLook={(store) => void look(store)} />}
      {step.at === 'found' && (
        <SealingForm
          found={step.found}
          isBusy={isBusy}
          onBack={() => setStep({ at: 'address' })}
          onServe={(sealing) => void serve(step.store, sealing)}
        />
      )}
      {step.at === 'sheet' && (
        <>
          <KeySheetView {...step.store} identity={step.identity} hasPassphrase={step.hasPassphrase} />
          <SheetKept onKept={() => void connect(step.served)} />
        </>
      )}
      {problem && <Alert type="warning" title={problem} showIcon={false} role="alert" />}
    </div>
  );
}

function storeProblem(error: unknown): string {
  if (!(error instanceof DriveError)) return 'It could not be looked at.';
  if (error.problem === 'sealed') return 'That does not open it: another passphrase or key is needed.';
  if (error.problem === 'store-silent') return 'Nothing answers there as a store does. Is the address right?';
  if (error.problem === 'store-refuses') return 'The store refuses these keys.';
  return problemSentence({ code: 'drive/problem', reason: error.problem });
}

const EMPTY: StoreAddress = {
  endpoint: 'https://',
  region: 'us-east-1',
  bucket: '',
  prefix: '',
  accessKeyId: '',
  secretAccessKey: '',
};

interface LineProps {
  id: string;
  label: string;
  value: string;
  placeholder?: string;
  isSecret?: boolean;
  onChange: (value: string) => void;
}

function Line({ id, label, value, placeholder = '', isSecret = false, onChange }: LineProps) {
  return (
    <div className={styles.line}>
      <label htmlFor={id}>{label}</label>
      <Input
        id={id}
        value={value}
        placeholder={placeholder}
        autoComplete="off"
        spellCheck={false}
        type={isSecret ? 'password' : 'text'}
        onChange={({ target }) => onChange(target.value)}
      />
    </div>
  );
}

interface AddressProps {
  host: HostClient;
  isBusy: boolean;
  onLook: (store: StoreAddress) => void;
}

function AddressForm({ host, isBusy, onLook }: AddressProps) {
  const [typed, setTyped] = useState(EMPTY);
  const standIn = useStandIn(host);
  const read = storeAddress.safeParse({ ...typed, prefix: typed.prefix.replace(/^\/+|\/+$/g, '') });
  const line = (key: keyof StoreAddress, label: string, placeholder = '') => (
    <Line
      id={`store-${key}`}
      label={label}
      placeholder={placeholder}
      isSecret={key === 'secretAccessKey'}
      value={typed[key]}
      onChange={(value) => setTyped({ ...typed, [key]: value.trim() })}
    />
  );
  const isOpenLine =
    typed.endpoint.startsWith('http://') && !/^http:\/\/(127\.|localhost|\[::1\])/.test(typed.endpoint);
  return (
    <form
      className={styles.browser}
      onSubmit={(event) => {
        event.preventDefault();
        if (read.success) onLook(read.data);
      }}
    >
      <p className="quiet">
        A bucket that speaks S3, of a provider, an institution, or a server of one’s own. The server of this application
        reaches it and keeps its keys; they are not kept in the browser or on any drive.
      </p>
      {standIn && (
        <p>
          The demo comes with a store that stands in for one.{' '}
          <Button size="small" onClick={() => setTyped(standIn)}>
            Use it
          </Button>
        </p>
      )}
      {line('endpoint', 'address', 'https://s3.example.org')}
      {line('bucket', 'bucket')}
      {line('prefix', 'folder in it', 'none: all of the bucket')}
      {line('region', 'region')}
      {line('accessKeyId', 'key id')}
      {line('secretAccessKey', 'secret key')}
      {isOpenLine && (
        <p>With http, what is sent can be read on its way unless it is sealed. Over the open net, use https.</p>
      )}
      <div className={styles.foot}>
        <Button type="primary" htmlType="submit" disabled={!read.success} loading={isBusy}>
          Look what lies there
        </Button>
      </div>
    </form>
  );
}

function useStandIn(host: HostClient): StoreAddress | null {
  const [standIn, setStandIn] = useState<StoreAddress | null>(null);
  useEffect(() => {
    host.ask('standIn', {}).then(setStandIn, () => undefined);
  }, [host]);
  return standIn;
}

interface SealingProps {
  found: FoundStore;
  isBusy: boolean;
  onBack: () => void;
  onServe: (sealing: Sealing) => void;
}

type How = 'passphrase' | 'key' | 'none';

function SealingForm({ found, isBusy, onBack, onServe }: SealingProps) {
  const [how, setHow] = useState<How>('passphrase');
  const [sealsNames, setSealsNames] = useState(false);
  const [secret, setSecret] = useState('');
  const [again, setAgain] = useState('');
  const isNew = found.holds === 'nothing';
  const asksTwice = isNew && how === 'passphrase';
  const isReady = found.sealed
    ? secret.trim() !== ''
    : !asksTwice || (secret === again && secret.length >= PASSPHRASE_LENGTH);
  const serve = () => {
    if (found.sealed) return onServe({ how: 'open', secret });
    if (!isNew || how === 'none') return onServe({ how: 'none' });
    onServe({ how: 'new', passphrase: how === 'passphrase' ? secret : null, sealsNames });
  };
  return (
    <form
      className={styles.browser}
      onSubmit={(event) => {
        event.preventDefault();
        if (isReady) serve();
      }}
    >
      <p aria-live="polite">{foundStoreSentence(found)}</p>
      {isNew && (
        <Radio.Group
          value={how}
          onChange={({ target }) => setHow(target.value as How)}
          aria-label="How it is kept there"
          vertical
        >
          <Radio value="passphrase">sealed; a passphrase opens it</Radio>
          <Radio value="key">sealed; only a key on a printed sheet opens it</Radio>
          <Radio value="none">as it is: whoever has the bucket can look at it</Radio>
        </Radio.Group>
      )}
      {(found.sealed !== null || asksTwice) && (
        <Line
          id="store-secret"
          label={found.sealed === 'by-key' ? 'key' : 'passphrase'}
          isSecret
          value={secret}
          onChange={setSecret}
        />
      )}
      {asksTwice && (
        <>
          <Line id="store-again" label="once more" isSecret value={again} onChange={setAgain} />
          <p className="quiet">
            {secret.length < PASSPHRASE_LENGTH
              ? `At least ${PASSPHRASE_LENGTH} letters; some words that nobody would say together are best.`
              : secret === again
                ? 'They are the same.'
                : 'The two are not the same yet.'}
          </p>
        </>
      )}
      {isNew && how !== 'none' && (
        <>
          <Checkbox checked={sealsNames} onChange={({ target }) => setSealsNames(target.checked)}>
            names of files and folders too
          </Checkbox>
          <p>
            Everything is sealed with age, an open format, before it leaves this machine
            {sealsNames ? '' : '; names of files and folders stay readable'}. Whoever loses{' '}
            {how === 'passphrase' ? 'both passphrase and sheet' : 'the sheet'} and this computer has lost what is in the
            store: nobody can open it then.
          </p>
        </>
      )}
      <div className={styles.foot}>
        <Button className={styles.push} onClick={onBack}>
          Back
        </Button>
        <Button type="primary" htmlType="submit" disabled={!isReady} loading={isBusy}>
          {found.sealed ? 'Open it' : 'Set it up'}
        </Button>
      </div>
    </form>
  );
}

function SheetKept({ onKept }: { onKept: () => void }) {
  const [isKept, setKept] = useState(false);
  return (
    <div className={styles.foot}>
      <span className={styles.push}>
        <Checkbox checked={isKept} onChange={({ target }) => setKept(target.checked)}>
          The sheet is printed or written down
        </Checkbox>
      </span>
      <Button type="primary" disabled={!isKept} onClick={onKept}>
        Go on
      </Button>
    </div>
  );
}
