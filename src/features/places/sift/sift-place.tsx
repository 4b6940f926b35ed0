'use client';

// Sift: a picture with the ladder beside it, over the scope or in a round.

import { App, Button } from 'antd';
import { useSearchParams } from 'next/navigation';
import { type ReactNode, useCallback, useDeferredValue, useEffect, useState } from 'react';
import { z } from 'zod';
import { NO_PHOTOS } from '@/core/search/photo-order';
import { countOf } from '@/core/search/search-record';
import { type RoundDecision, TOP_RUNG, type Round, lifted, nextUndecided } from '@/core/sift/round';
import { queueArchives } from '@/storage/catalog/changes';
import { useLive } from '@/storage/catalog/live';
import { count } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import type { OrderedPhotos, SearchAnswer } from '@/workers/search-client';
import { Ladder } from '@/features/parts/judging/ladder';
import { JudgingTo, MarkerChoice } from '@/features/parts/judging/marker-choice';
import { setRung, useJudging } from '@/features/parts/judging/rate';
import { useJudgingKeys } from '@/features/parts/judging/use-judging-keys';
import { toggleFullScreen } from '@/features/parts/picture/picture-bar';
import { useWholeAgain } from '@/features/parts/picture/pictures';
import { SideBySide } from '@/features/parts/picture/side-by-side';
import { SingleView } from '@/features/parts/picture/single-view';
import { useSideBySide } from '@/features/parts/picture/use-side-by-side';
import { useResult } from '@/features/parts/search/use-result';
import { useScope } from '@/features/parts/search/use-scope';
import { changeAddress } from '@/ui/address';
import { keptChoice } from '@/ui/kept-choice';
import { usePreview } from '@/features/parts/picture/previews';
import { setFocus, useLarge } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { RoundCard, type RoundChoices } from './round-card';
import { SiftStart } from './sift-start';
import styles from './sift.module.css';
import { DECISION_WORDS, beginRound, useDecide, useRound, useRoundPhotos } from './use-round';
import { useSession } from '@/features/parts/session/use-session';

const useRoundChoices = keptChoice<RoundChoices>('wembo-round', z.object({ goOn: z.boolean(), leaving: z.boolean() }), {
  goOn: true,
  leaving: false,
});

export function SiftPlace() {
  const { result } = useResult();
  const { scope, photo: inAddress, setPhoto } = useScope();
  const stage = useSession((state) => state.stage.state);
  const indexed = useSession((state) => state.indexed);
  const roundId = useSearchParams().get('round');
  const found = useRound(roundId);
  const round = found && found.id !== roundId ? undefined : found; // never one that was left
  const choices = useRoundChoices();
  const [at, setAt] = useState<string | null>(null);
  const ofRound = useRoundPhotos(round, choices.leaving, at);
  const photo = useLarge(inAddress, (roundId === null ? result?.order : ofRound?.order) ?? NO_PHOTOS);
  useEffect(() => setAt(photo), [photo]);
  useWholeAgain(inAddress === null);
  const open = useCallback(
    (id: string) => {
      setFocus(id);
      setPhoto(id);
    },
    [setPhoto],
  );

  // a round that is opened shows its first photo that is not decided
  useEffect(() => {
    if (round && ofRound && ofRound.order.length > 0 && (photo === null || ofRound.order.indexOf(photo) < 0))
      open(nextIn(round, ofRound, null) ?? ofRound.order.at(0) ?? '');
  }, [round, ofRound, photo, open]);

  if (!result)
    return (
      <p className={styles.opening}>
        {stage === 'ready' ? 'Looking…' : `Opening the catalog: ${count(indexed)} photos so far`}
      </p>
    );
  if (round && ofRound && photo)
    return (
      <RoundView
        key={round.id}
        round={round}
        photos={ofRound}
        result={result}
        photoId={photo}
        open={open}
        choices={choices}
      />
    );
  if (round && ofRound?.order.length === 0)
    return (
      <p className={styles.opening}>
        {choices.leaving && ofRound
          ? 'Every photo of this round is decided, or none of them is in the catalog any more.'
          : 'None of the photos of this round is in the catalog any more.'}{' '}
        <Button onClick={() => goToRound(null)}>Back</Button>
      </p>
    );
  if (roundId !== null && round !== null) return <p className={styles.opening}>Opening the round…</p>;
  if (photo && roundId === null)
    return <Through photoId={photo} photos={result} result={result} open={open} onClose={() => setPhoto(null)} />;
  return (
    <SiftStart result={result} scope={scope} onRound={goToRound} onThrough={() => open(result.order.at(0) ?? '')} />
  );
}

/** The first undecided photo of the round that is in the catalog, from one on. */
function nextIn(
  round: Pick<Round, 'photoIds' | 'decided'>,
  { order }: OrderedPhotos,
  from: string | null,
): string | null {
  return nextUndecided(
    { photoIds: round.photoIds.filter((id) => order.indexOf(id) >= 0), decided: round.decided },
    from,
  );
}

const goToRound = (roundId: string | null): void => changeAddress({ photo: null, round: roundId }, 'push');

interface ViewProps {
  photoId: string;
  photos: OrderedPhotos;
  result: SearchAnswer;
  open: (id: string) => void;
}

/** A round: up, leave, reject. */
function RoundView({
  round,
  photos,
  result,
  photoId,
  open,
  choices,
}: ViewProps & { round: Round; choices: RoundChoices }) {
  const { message } = App.useApp();
  const onward = useCallback(
    (now: Pick<Round, 'photoIds' | 'decided'>, from: string) => {
      if (!choices.goOn) return;
      const next = nextIn(now, photos, from);
      if (next !== null) open(next);
      else void message.success(`Every photo of “${round.name}” is decided.`);
    },
    [choices.goOn, photos, open, message, round.name],
  );
  const decide = useDecide(round, photoId, onward);
  const leave = () => {
    void queueArchives(session.db, Date.now()).then(() => session.wakeOutbox());
    goToRound(null);
  };
  useArchiveWhenHidden();
  const next = async () =>
    goToRound(await beginRound(`${round.name}, then`, Math.min(TOP_RUNG, round.rung + 1), lifted(round), round.id));
  const once = (decision: RoundDecision) => (event: KeyboardEvent) => {
    if (!event.repeat) decide(decision);
  };
  const entries = round.decided;
  const decided = useCallback(
    (id: string) => {
      const entry = entries[id];
      return entry && DECISION_WORDS[entry.decision];
    },
    [entries],
  );
  const keys = { w: once('up'), ArrowUp: once('up'), s: once('leave'), ArrowDown: once('leave'), q: once('reject') };
  return (
    <Through
      photoId={photoId}
      photos={photos}
      result={result}
      open={open}
      onClose={leave}
      keys={keys}
      decided={decided}
      aside={
        <RoundCard
          round={round}
          photoId={photoId}
          choices={choices}
          onChoices={(patch) => useRoundChoices.setState(patch)}
          onDecide={decide}
          onLeave={leave}
          onNext={() => void next()}
        />
      }
    />
  );
}

/** The page may be closed without a word: what was decided goes to the drives when it is put out of sight. */
function useArchiveWhenHidden(): void {
  useEffect(() => {
    const onHide = () =>
      document.visibilityState === 'hidden' &&
      void queueArchives(session.db, Date.now()).then(() => session.wakeOutbox());
    document.addEventListener('visibilitychange', onHide);
    return () => document.removeEventListener('visibilitychange', onHide);
  }, []);
}

interface ThroughProps extends ViewProps {
  onClose: () => void;
  keys?: Parameters<typeof useJudgingKeys>[1];
  decided?: (id: string) => string | undefined;
  aside?: ReactNode;
}

/** A picture, its neighbours, and the ladder. */
function Through({ photoId, photos, result, open, onClose, keys, decided, aside }: ThroughProps) {
  const besidePhoto = useDeferredValue(photoId); // the picture first, the ladder a moment later
  const beside = useSideBySide(photoId);
  const view = beside.ids ? 'beside' : 'alone';
  const [folded, setFolded] = useState({ alone: false, beside: true }); // side by side, the pictures need the room
  const { order } = photos;
  const step = (by: 1 | -1) => {
    const next = order.at(Math.min(order.length - 1, Math.max(0, order.indexOf(photoId) + by)));
    if (next !== undefined) open(next);
  };
  const closed = beside.ids === null;
  const naming = useJudgingKeys(
    () => [photoId],
    { a: () => step(-1), ArrowLeft: () => step(-1), d: () => step(1), ArrowRight: () => step(1), ...keys },
    closed,
  );
  useKeys({
    f: () => setFolded((now) => ({ ...now, [view]: !now[view] })),
    'Shift+Enter': () => void toggleFullScreen(),
  });
  return (
    <div className={styles.place} data-folded={folded[view]}>
      <main className={styles.main}>
        {beside.ids ? (
          <SideBySide ids={beside.ids} onClose={beside.close} onPresent={open} />
        ) : (
          <SingleView
            photoId={photoId}
            result={photos}
            onStep={step}
            onOpen={open}
            onClose={onClose}
            onSideBySide={() => void beside.open()}
            back="Sift"
            {...(decided && { decided })}
          />
        )}
      </main>
      {!folded[view] && (
        <JudgingSide photoId={besidePhoto} photos={photos} result={result} naming={naming}>
          {aside}
        </JudgingSide>
      )}
    </div>
  );
}

function JudgingSide({
  photoId,
  photos,
  result,
  naming,
  children,
}: Pick<ViewProps, 'photoId' | 'photos' | 'result'> & { naming: boolean; children: ReactNode }) {
  const photo = useLive(() => session.db.photos.get(photoId), [photoId]);
  const preview = usePreview(photoId);
  const to = useJudging((state) => state.to);
  const rating = photo?.id === photoId ? (typeof photo.fields.rating === 'number' ? photo.fields.rating : 0) : null;
  const label = photo?.id === photoId && typeof photo.fields.label === 'string' ? photo.fields.label : '';
  return (
    <aside className={styles.side} aria-label="Judging">
      {children}
      <Ladder
        counts={(rung) => countOf(result.ladder, rung)}
        present={rating}
        preview={preview}
        onRung={(rung) => void setRung([photoId], rung)}
      />
      <div className={styles.to}>
        A judgement goes to{' '}
        <JudgingTo
          value={to}
          onChange={(next) => useJudging.setState({ to: next })}
          setSize={photos.setSizes[photos.order.indexOf(photoId)] ?? 0}
        />
      </div>
      <MarkerChoice ids={() => [photoId]} label={label} naming={naming} />
    </aside>
  );
}
