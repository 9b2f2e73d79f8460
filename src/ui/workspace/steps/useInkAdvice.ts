'use client';

import { useEffect } from 'react';
import { create } from 'zustand';
import type { InkPart } from '@/browser';
import {
  type InkIdea,
  type InkOffer,
  type PresentInks,
  offersKey,
  presentKey,
  withOffer,
} from '@/core/pipeline';
import type { Closeness } from '@/core/solving';
import { useDesk } from '../desk/desk';

/** Inks for each number of screens, as far as they are found. */
interface Offers {
  readonly offers: readonly InkOffer[];
  /** What all inks of stock would reach; found last. */
  readonly all: Closeness | null;
}

export interface InkAdvice extends Offers {
  /** What the job's own inks are worth; null while it is not known. */
  readonly present: PresentInks | null;
  /** An ink to be mixed; null where none is worth it, or it is not known. */
  readonly idea: InkIdea | null;
}

const NONE: Offers = { offers: [], all: null };

/** The answers of this page, by their questions: a step back finds them. */
interface Answers {
  readonly offers: Readonly<Record<string, Offers>>;
  readonly present: Readonly<Record<string, PresentInks | null>>;
  readonly idea: Readonly<Record<string, InkIdea | null>>;
}

const useAnswers = create<Answers>(() => ({ offers: {}, present: {}, idea: {} }));
const MOST_KEPT = 12;

function withAnswer<T>(answers: Readonly<Record<string, T>>, key: string, answer: T): Record<string, T> {
  const others = Object.entries(answers).filter(([each]) => each !== key);
  return Object.fromEntries([...others.slice(-MOST_KEPT), [key, answer]]);
}

/** It begins when nothing was changed for this long: a colour that is dragged asks once. */
const PAUSE_MS = 500;

/** The questions of the job as it stands. */
function useQuestion() {
  const sheet = useDesk((desk) => desk.sheet);
  const stock = useDesk((desk) => desk.stock.inks);
  return { sheet, stock, asked: offersKey({ sheet, stock }), own: presentKey({ sheet, stock }) };
}

/** Looks for inks as long as whoever calls it is shown, a moment behind the job. */
export function useInkSearch(): void {
  const { sheet, stock, asked, own } = useQuestion();
  const pool = useDesk((desk) => desk.pool);
  const hasOuterMap = useDesk((desk) => desk.artwork.hasOuterMap);
  useEffect(() => {
    const known = useAnswers.getState();
    const wanted: InkPart['kind'][] = [];
    if (!(own in known.present)) wanted.push('present');
    if (!known.offers[asked]?.all) wanted.push('offer', 'all');
    if (!(own in known.idea)) wanted.push('idea');
    if (wanted.length === 0) return;
    // An answer that was broken off begins anew.
    let found = NONE;
    const heard = (part: InkPart) => {
      if (part.kind === 'present') {
        useAnswers.setState(({ present }) => ({ present: withAnswer(present, own, part.present) }));
        return;
      }
      if (part.kind === 'idea') {
        useAnswers.setState(({ idea }) => ({ idea: withAnswer(idea, own, part.idea) }));
        return;
      }
      found =
        part.kind === 'all'
          ? { ...found, all: part.all }
          : { ...found, offers: withOffer(found.offers, part.offer) };
      useAnswers.setState(({ offers }) => ({ offers: withAnswer(offers, asked, found) }));
    };
    const timer = setTimeout(() => {
      pool
        .adviseInks({ sheet, hasOuterMap, stock, wanted }, heard)
        .then((isDone) => {
          // All of it, and nothing: the artwork prints nothing.
          if (isDone && wanted.includes('offer') && found.offers.length === 0) {
            heard({ kind: 'all', all: { mean: 0, p95: 0, wander: 0, register: 0 } });
          }
        })
        .catch(() => undefined);
    }, PAUSE_MS);
    return () => {
      clearTimeout(timer);
      pool.stopInks();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the keys hold what the answer depends on
  }, [pool, asked, own]);
}

/** Which inks would print the job's tones, and what its own are worth, as far as it is known. */
export function useInkAdvice(): InkAdvice {
  const { asked, own } = useQuestion();
  const offers = useAnswers((answers) => answers.offers[asked]);
  const present = useAnswers((answers) => answers.present[own]);
  const idea = useAnswers((answers) => answers.idea[own]);
  return { ...(offers ?? NONE), present: present ?? null, idea: idea ?? null };
}
