import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { ClayAct, ClayRoom } from '../../contract/clay.ts';
import { HABITS } from '../../contract/kinds.ts';
import type { PotsView, PotView } from '../../contract/pots.ts';
import { EMPTY_POT, nextCode, toPotTexts, toPotValues, type PotTexts } from '../pots/index.ts';
import { newId } from '../shell/api.ts';
import { typedNumber } from '../shell/field-reader.ts';
import { useClayAct } from './send-clay.ts';

export type PotUpAct = Extract<ClayAct, { kind: 'potUp' }>;
type Choices = Pick<PotUpAct, 'roots' | 'peroxide' | 'bacteria' | 'start'> & { clayId: string; weakDays: string };
export type PotUpDraft = ReturnType<typeof usePotUp>;

/** What is typed and chosen while a pot is potted up, what follows from it, and its one act. */
export function usePotUp({ room, pots, pot }: { room: ClayRoom; pots: PotsView; pot: PotView | undefined }) {
  const [params] = useSearchParams();
  const navigate = useNavigate();
  const { send, problems, code, busy, clear, setProblems } = useClayAct();
  const [newPotId] = useState(newId);
  const usable = room.batches.filter((b) => b.retiredOn === null && b.leftL > 0.05);
  const wished = usable.find((b) => b.id === params.get('clay')) ?? usable.find((b) => b.ready) ?? usable[0];
  const [texts, setTexts] = useState<PotTexts>(() => firstTexts(pots, pot));
  const [choices, setChoices] = useState<Choices>({
    clayId: wished?.id ?? '',
    roots: 'sound',
    peroxide: false,
    bacteria: false,
    start: 'feed',
    weakDays: '10',
  });
  const [ticked, setTicked] = useState<Readonly<Record<string, boolean>>>({});
  const change = (part: Partial<PotTexts>) => {
    clear();
    setTexts((old) => ({ ...old, ...part }));
  };
  const choose = (part: Partial<Choices>) => setChoices((old) => ({ ...old, ...part }));
  const tick = (name: string) => setTicked((old) => ({ ...old, [name]: !old[name] }));
  const inClay = texts.medium === 'clay' || texts.medium === 'basket';
  const batch = inClay ? room.batches.find((b) => b.id === choices.clayId) : undefined;
  const title = `${texts.code} ${texts.name || texts.plant}`.trim();
  const keep = async (confirmedNotReady: boolean) => {
    if (batch && texts.clayL.trim() === '')
      return setProblems({ clayL: 'Give the litres of clay that went in, such as 0.8.' });
    const { roots, peroxide, bacteria, start, weakDays } = choices;
    const potId = pot?.pot.id ?? newPotId;
    const act: PotUpAct = {
      kind: 'potUp',
      potId,
      values: { ...toPotValues(texts), clay: batch?.values.name ?? null } as unknown as PotUpAct['values'],
      regimenId: texts.regimenId,
      clayId: batch?.id ?? null,
      clayL: (batch ? (typedNumber(texts.clayL) ?? 0) : 0) as number,
      roots,
      peroxide,
      bacteria,
      start,
      weakDays: start === 'weak' ? Number(weakDays) || 0 : 0,
      confirmedNotReady,
    };
    if (await send(act, `${title} potted up`)) await navigate(`/pots/${potId}`);
  };
  return {
    ...{ room, pots, pot, texts, change, ...choices, choose, ticked, tick, usable, inClay, batch, title, keep },
    ...{ problems, code, busy, clear },
    regimen: pots.regimens.find((r) => r.id === texts.regimenId),
    habit: HABITS.find((h) => h === texts.habit),
  };
}

function firstTexts(pots: PotsView, pot: PotView | undefined): PotTexts {
  if (pot)
    return {
      ...toPotTexts(pot.values),
      regimenId: pot.pot.regimenId,
      medium: pot.values.medium === 'bark' ? 'clay' : pot.values.medium,
    };
  const usual = [...pots.regimens].sort((a, b) => b.pots - a.pots)[0];
  const place = pots.places[0];
  return {
    ...EMPTY_POT,
    placeId: place?.id ?? '',
    regimenId: usual?.id ?? '',
    stage: 'rooting',
    code: place ? nextCode(place.pots.map((p) => p.code)) : '',
  };
}
