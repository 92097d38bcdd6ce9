import type { ComingView, SchoolsView, WhatChanges } from '../../contract/regimens.ts';
import { ppmFromEc, upperFirst } from '../../core/quantity/index.ts';
import {
  comingVisits,
  DISAGREEMENTS,
  flushMl,
  inGap,
  openMonths,
  SCHOOL_TEXTS,
  soakToMake,
  type ComingVisit,
  type PotHistory,
  type Regimen,
  SOAKS,
} from '../../core/regimen/index.ts';
import { AppError } from '../app-error.ts';
import {
  growersScale,
  potStates,
  readParams,
  toRegimenValues,
  feedWords,
  writeParams,
  type Collection,
  type PotState,
} from '../collection/index.ts';

/** Weeks a change is looked ahead. */
export const WEEKS_AHEAD = 6;

/** Every school as one would begin with it, on the grower's pen, and where growers disagree. */
export function schoolsViewOf({ meters }: Collection): SchoolsView {
  const scale = growersScale(meters);
  return {
    schools: SCHOOL_TEXTS.map(({ school, title, words, source, regimen }) => ({
      school,
      title,
      words,
      source,
      values: toRegimenValues(
        { id: '', name: title, kind: school, params: writeParams(regimen), retiredOn: null },
        scale,
      ),
    })),
    disagreements: DISAGREEMENTS.map((d) => ({ ...d })),
  };
}

/**
 * What some pots would be given over the weeks ahead if they followed another regimen from a day on, beside what they would be given as it stands.
 * @throws AppError `not-found`
 */
export function whatWouldChange(
  collection: Collection,
  request: { potIds: readonly string[]; regimenId: string },
  today: string,
): WhatChanges {
  const row = collection.regimens.get(request.regimenId);
  if (!row) throw new AppError('not-found', 'That regimen is not in use any more. Choose another.');
  const regimen = readParams(row);
  const scale = growersScale(collection.meters);
  const { workingDays } = collection.settings;
  const wanted = new Set(request.potIds);
  const states = potStates(collection, today).filter((s) => wanted.has(s.pot.id));
  const ahead = (s: PotState, params: Regimen, history: PotHistory) =>
    comingVisits(params, s.plant, s.site, history, today, 7 * WEEKS_AHEAD, workingDays);
  // Changed today, its rota begins anew and its soaks are due from today on.
  const next = states.map((s) => ({ s, visits: ahead(s, regimen, { ...s.history, turn: 0, since: today }) }));
  return {
    weeks: WEEKS_AHEAD,
    pots: next.map(({ s, visits }) => ({
      id: s.pot.id,
      code: s.pot.code,
      name: s.pot.name || s.pot.plant,
      now: s.regimen.name,
      visits: visits.map((visit) => comingWords(visit, s, scale)),
      remarks: remarksOn(regimen, s),
    })),
    before: sums(states.map((s) => ({ s, visits: ahead(s, s.regimen.params, s.history) }))),
    after: sums(next),
  };
}

/** A pot's own weeks ahead by what it follows. */
export function comingOf(s: PotState, today: string, workingDays: readonly number[], scale: number): ComingView[] {
  return comingVisits(s.regimen.params, s.plant, s.site, s.history, today, 7 * WEEKS_AHEAD, workingDays).map((visit) =>
    comingWords(visit, s, scale),
  );
}

function comingWords({ on, watering, soaks }: ComingVisit, s: PotState, scale: number): ComingView {
  const ppm = (ec: number) => Math.round(ppmFromEc(ec, scale));
  const soak = soakToMake(soaks);
  const spray = s.pot.medium === 'basket';
  const strength =
    soak &&
    [
      soak.netEcUsCm === null ? '' : `${ppm(soak.netEcUsCm)} ppm`,
      soak.sio2MgL === null ? '' : `${Math.round(soak.sio2MgL)} mg/L SiO2`,
    ].filter(Boolean);
  return {
    on,
    words: feedWords(watering, scale),
    soaks:
      soak && !(spray && !soak.sprayBaskets)
        ? [`${SOAKS[soak.what].name.replace(/ soak$/, spray ? ' leaf spray' : ' soak')}, ${strength!.join(' + ')}`]
        : [],
    because: [...watering.because],
  };
}

const MONTHS = [
  '',
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

/** When a soak comes on a place, and how a basket gets it. */
function soakRemarks(soak: Regimen['soaks'][number], { site, pot }: PotState): string[] {
  const open = openMonths(soak, site);
  const name = upperFirst(SOAKS[soak.what].name);
  const season =
    open.length === 12
      ? `${name} all year: under lamps and warm.`
      : open.length > 0
        ? `${name} from ${MONTHS[open[0]!]} to ${MONTHS[open.at(-1)!]}${site.southern ? ', as the seasons run there' : ', by daylight'}.`
        : '';
  const basket = soak.sprayBaskets
    ? 'A basket: it gets a leaf spray in the same week.'
    : 'A basket cannot be filled: it goes without.';
  return [season, pot.medium === 'basket' ? basket : ''].filter(Boolean);
}

/** What the regimen cannot do for this pot, or does otherwise, in words. */
function remarksOn(regimen: Regimen, s: PotState): string[] {
  const remarks: string[] = [];
  for (const soak of regimen.soaks) remarks.push(...soakRemarks(soak, s));
  if (
    regimen.soaks.length > 0 &&
    regimen.stages.soaksOnlyInGrowth &&
    (s.plant.stage === 'rest' || s.plant.stage === 'rooting')
  )
    remarks.push(`No soaks while it is ${s.plant.stage === 'rest' ? 'at rest' : 'rooting'}.`);
  if (inGap(regimen, s.plant))
    remarks.push('Its height lies between the bands of practice, and nobody says what holds there.');
  if (regimen.byHeight && !s.plant.crop)
    remarks.push(
      'Strength by height is for vegetables and herbs; this pot is not marked as one, so it takes the plain strength.',
    );
  if (regimen.dryBeforeSoak && regimen.soaks.length > 0)
    remarks.push('Left to dry before a soak, its clay lifts pH as it did when new.');
  return [...new Set(remarks)];
}

function sums(of: readonly { s: PotState; visits: readonly ComingVisit[] }[]): WhatChanges['before'] {
  const all = of.flatMap(({ s, visits }) => visits.map((visit) => ({ s, visit })));
  const litres = (ml: number) => Math.round(ml / 100) / 10;
  return {
    visits: all.length,
    soaks: all.filter(({ visit }) => visit.soaks.length > 0).length,
    mixL: litres(all.reduce((sum, { s }) => sum + s.pot.fillMl, 0)),
    flushL: litres(all.reduce((sum, { s, visit }) => sum + flushMl(visit.watering, s.pot.reservoirMl), 0)),
  };
}
