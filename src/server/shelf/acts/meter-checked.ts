import { carePayloads } from '../../../contract/care.ts';
import { STANDARDS } from '../../../core/quantity/index.ts';
import { act } from '../../act/definition.ts';
import { forgetLearnedWith } from '../../collection/index.ts';

/** A pen looked at in a standard or in air. */
export const meterChecked = act({
  kind: 'meterChecked',
  payload: carePayloads.meterChecked,
  group: 'Check',
  words: (p, { meter }) => {
    const where = p.standard === 'zero' ? 'in air' : `in ${STANDARDS[p.standard].name}`;
    return `Checked ${meter ?? 'A pen'} ${where}: showed ${p.shown}${p.settled ? '' : ', would not settle'}${p.adjusted ? ', set to it' : ''}`;
  },
  undone: 'Took a check of a pen back',
  takeBack: (manager, { payload }) => forgetLearnedWith(manager, payload.meterId),
  putBack: (manager, { payload }) => forgetLearnedWith(manager, payload.meterId),
});
