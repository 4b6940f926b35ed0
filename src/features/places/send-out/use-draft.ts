'use client';

// The profile that is chosen, and what was changed of it for this delivery alone. Nothing is chosen when the place is
// opened, and nothing of the last delivery is applied.

import { useState } from 'react';
import type { Answers } from '@/core/send-out/delivery-plan';
import { type DeliveryProfile, NEW_PROFILE, type ProfileContent } from '@/core/send-out/delivery-profile';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';

export interface Draft {
  profiles: DeliveryProfile[];
  /** As it is kept; `null` while none is chosen. */
  profile: DeliveryProfile | null;
  /** As it will be used. */
  content: ProfileContent | null;
  isChanged: boolean;
  answers: Answers;
  choose: (id: string | null) => void;
  change: (patch: Partial<ProfileContent>) => void;
  answer: (patch: Answers) => void;
  back: () => void;
  keep: () => Promise<void>;
  keepAs: (name: string) => Promise<void>;
  rename: (name: string) => Promise<void>;
  remove: () => Promise<void>;
}

export function useDraft(): Draft {
  const profiles =
    useLive(async () =>
      (await session.db.deliveryProfiles.toArray())
        .filter(({ deleted }) => !deleted)
        .sort((a, b) => a.name.localeCompare(b.name)),
    ) ?? [];
  const [id, setId] = useState<string | null>(null);
  const [patch, setPatch] = useState<Partial<ProfileContent>>({});
  const [answers, setAnswers] = useState<Answers>({});
  const profile = profiles.find((one) => one.id === id) ?? null;
  const content = profile && { ...contentOf(profile), ...patch };
  const choose = (chosen: string | null) => {
    setId(chosen);
    setPatch({});
    setAnswers({});
  };
  return {
    profiles,
    profile,
    content,
    isChanged: profile !== null && JSON.stringify(content) !== JSON.stringify(contentOf(profile)),
    answers,
    choose,
    change: (one) => setPatch((before) => ({ ...before, ...one })),
    answer: (one) => setAnswers((before) => ({ ...before, ...one })),
    back: () => setPatch({}),
    keep: async () => {
      if (profile && content && (await session.changeKept('deliveryProfiles', profile, content))) setPatch({});
    },
    keepAs: async (name) => {
      const made = await session.keep('deliveryProfiles', { ...(content ?? NEW_PROFILE), name });
      if (made) choose(made);
    },
    rename: async (name) => {
      if (profile) await session.changeKept('deliveryProfiles', profile, { name });
    },
    remove: async () => {
      if (profile && (await session.changeKept('deliveryProfiles', profile, { deleted: true }))) choose(null);
    },
  };
}

const contentOf = ({ picture, names, folder, words, watermark, extras, sentAs }: DeliveryProfile): ProfileContent => ({
  picture,
  names,
  folder,
  words,
  watermark,
  extras,
  sentAs,
});
