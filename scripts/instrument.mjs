/**
 * A small simulated instrument: sends a reading, or one now and then about a figure, as a home-made pen would.
 * `npm run instrument -- --key KEY [--shown 131] [--to http://127.0.0.1:4180] [--every 5 --times 10]`
 */
import { randomUUID } from 'node:crypto';
import { parseArgs } from 'node:util';

const options = {
  key: { type: 'string' },
  to: { type: 'string', default: 'http://127.0.0.1:4180' },
  shown: { type: 'string', default: '131' },
  temperature: { type: 'string' },
  every: { type: 'string', default: '5' },
  times: { type: 'string', default: '1' },
};
const { values } = (() => {
  try {
    return parseArgs({ options });
  } catch (error) {
    console.error(
      `${error.message}\nIt takes ${Object.keys(options)
        .map((name) => `--${name}`)
        .join(', ')}.`,
    );
    process.exit(2);
  }
})();
if (!values.key) {
  console.error('Give the key that the Book showed: npm run instrument -- --key KEY');
  process.exit(2);
}
const shown = Number(values.shown);
const times = Number(values.times);
for (let i = 0; i < times; i++) {
  // One figure is sent as it is; of several each has the unrest of a real display.
  const figure = times === 1 ? shown : Math.round(10 * shown * (1 + 0.01 * (Math.random() - 0.5))) / 10;
  const answer = await fetch(`${values.to}/api/instruments/readings`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${values.key}` },
    body: JSON.stringify({
      id: randomUUID(),
      shown: figure,
      ...(values.temperature ? { temperatureC: Number(values.temperature) } : {}),
    }),
  });
  const said = await answer.json();
  if (!answer.ok) {
    console.error(said.detail ?? `Refused (${answer.status}).`);
    process.exit(1);
  }
  console.log(said.waits ? `${figure}: taken by the field that waited` : `${figure}: in the tray`);
  if (i + 1 < times) await new Promise((resolve) => setTimeout(resolve, 1000 * Number(values.every)));
}
