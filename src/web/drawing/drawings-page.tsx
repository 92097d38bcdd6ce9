import { PhGauge } from './ph-gauge.tsx';
import { PotSection } from './pot-section.tsx';
import { ShelfPicture, type ShelfPot } from './shelf-picture.tsx';
import type { PotDrawing } from '../../contract/common.ts';
import { potWords } from './pot-words.ts';
import { BucketPicture } from './bucket-picture.tsx';

const BASE: PotDrawing = {
  level: 0.6,
  levelIsGuess: false,
  ratio: 1,
  ph: 6,
  phLow: 5.5,
  phHigh: 6.5,
  salts: 0,
  stage: 'growth',
  form: 'clay',
};
const STATES: { title: string; drawings: PotDrawing[] }[] = [
  {
    title: 'Stage',
    drawings: (['rooting', 'growth', 'rest', 'spike', 'bloom'] as const).map((stage) => ({ ...BASE, stage })),
  },
  { title: 'Level', drawings: [0, 0.15, 0.5, 0.8, 1].map((level) => ({ ...BASE, level })) },
  {
    title: 'Strength against the aim',
    drawings: [0.2, 0.6, 1, 1.5, 2.4].map((ratio) => ({ ...BASE, level: 0.8, ratio })),
  },
  { title: 'pH', drawings: [4, 5.2, 6, 6.8, 8.5].map((ph) => ({ ...BASE, ph })) },
  { title: 'Crust', drawings: [0, 1, 2, 3].map((salts) => ({ ...BASE, salts })) },
  { title: 'Vessel', drawings: (['clay', 'water', 'bark', 'basket'] as const).map((form) => ({ ...BASE, form })) },
  {
    title: 'Not known',
    drawings: [
      { ...BASE, ratio: undefined },
      { ...BASE, ph: undefined },
      { ...BASE, levelIsGuess: true },
      { ...BASE, ratio: undefined, ph: undefined, levelIsGuess: true },
    ],
  },
];

/** Outside the rail: every drawing in every state, for whoever changes them. */
export function DrawingsPage() {
  const pot = (i: number, tone: ShelfPot['tone'], badge?: ShelfPot['badge']): ShelfPot => ({
    id: `p${i}`,
    code: `X-0${i}`,
    name: 'Example',
    drawing: { ...BASE, level: (i * 0.17) % 1, ratio: 0.6 + i * 0.2 },
    tag: tone === 'late' ? '2 d late' : tone,
    tone,
    badge,
  });
  return (
    <div className="page">
      <h1>Drawings</h1>
      <p className="small mb-0">One component each, in every state. Change them here first.</p>
      {STATES.map(({ title, drawings }) => (
        <section key={title} className="sheet p-3">
          <h2>{title}</h2>
          <div className="d-flex flex-wrap gap-4 align-items-end">
            {drawings.map((d) => (
              <figure key={potWords(d)} className="m-0 text-center" style={{ maxWidth: 150 }}>
                <PotSection drawing={d} seed={title} size={92} />
                <figcaption className="small">{potWords(d)}</figcaption>
              </figure>
            ))}
          </div>
        </section>
      ))}
      <section className="sheet p-3">
        <h2>Size, 40 to 240 px</h2>
        <div className="d-flex flex-wrap gap-4 align-items-end">
          {[40, 56, 72, 120, 240].map((size) => (
            <PotSection
              key={size}
              drawing={{ ...BASE, ratio: 1.4, ph: 6.9, salts: 2, stage: 'bloom' }}
              seed="R-07"
              size={size}
              name={`${size} px`}
            />
          ))}
        </div>
      </section>
      <section className="sheet p-3">
        <h2>pH gauge</h2>
        <div className="d-flex flex-wrap gap-4">
          <PhGauge low={5.5} high={6.5} label="not read" />
          <PhGauge low={5.5} high={6.5} ph={5.9} label="inside" />
          <PhGauge low={5.5} high={6.5} ph={7.4} label="above" />
          <PhGauge low={6.5} high={7} expected={6.2} label="expected" />
        </div>
      </section>
      <section className="sheet p-3">
        <h2>Shelf picture</h2>
        <div style={{ height: 190 }}>
          <ShelfPicture
            places={[
              {
                id: 'x',
                name: 'A shelf',
                note: 'bright',
                pots: [
                  pot(1, 'done', { text: '✓', tone: 'done' }),
                  pot(2, 'quiet'),
                  pot(3, 'due', { text: 'A', tone: 'mix-0' }),
                  pot(4, 'late', { text: 'B', tone: 'mix-1' }),
                  pot(5, 'due', { text: 'C', tone: 'mix-2' }),
                  pot(6, 'done', { text: '–', tone: 'skipped' }),
                  pot(7, 'plain'),
                  pot(8, 'plain-late'),
                ],
              },
            ]}
            selectedId="p4"
            onSelect={() => undefined}
          />
        </div>
      </section>
      <section className="sheet p-3">
        <h2>Vessel</h2>
        <div className="d-flex gap-4" style={{ height: 300 }}>
          {[0.2, 0.6, 1].map((share) => (
            <div key={share} style={{ width: 90 }}>
              <BucketPicture volumeL={share * 10} capacityL={10} strength={share * 1.6} />
            </div>
          ))}
        </div>
      </section>
    </div>
  );
}
