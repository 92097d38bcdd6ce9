import { AtRest, FirstWater, Gone, Rinse } from './rest-now.tsx';
import { Leaching } from './leaching-now.tsx';
import type { NowProps } from './now-props.ts';

/** The next act on a batch: one sentence, one quantity, one field. */
export function ClayNow(props: NowProps) {
  const { batch } = props;
  if (batch.retiredOn) return <Gone {...props} />;
  switch (batch.state) {
    case 'bag':
      return <Rinse {...props} />;
    case 'rinsed':
      return <FirstWater {...props} />;
    case 'soaking':
      return <Leaching {...props} />;
    case 'ready':
    case 'leached':
    case 'drained':
    case 'unleached':
    case 'usedUp':
      return batch.leach && batch.leach.drainedAt === null ? <Leaching {...props} /> : <AtRest {...props} />;
  }
}
