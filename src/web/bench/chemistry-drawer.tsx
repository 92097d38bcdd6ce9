import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Offcanvas from 'react-bootstrap/Offcanvas';
import Table from 'react-bootstrap/Table';
import type { BatchView } from '../../contract/bench.ts';
import { Term } from '../shell/term.tsx';
import { phText, ppmText } from '../shell/format.ts';

type Known = Extract<BatchView['expected'], { known: true }>;

/** What is in the bucket, for the curious: elements, alkalinity, where the pH goes, and whether it clouds. */
export function ChemistryDrawer({ expected, name }: { expected: Known; name: string }) {
  const [open, setOpen] = useState(false);
  const { now, inside, clouding } = expected;
  return (
    <>
      <Button variant="link" size="sm" className="p-0 nowrap" onClick={() => setOpen(true)}>
        What is in it
      </Button>
      <Offcanvas show={open} onHide={() => setOpen(false)} placement="end" aria-labelledby="chemistry-title">
        <Offcanvas.Header closeButton>
          <Offcanvas.Title as="h2" id="chemistry-title">
            What is in it
          </Offcanvas.Title>
        </Offcanvas.Header>
        <Offcanvas.Body>
          <p className="small">
            {name}, by the labels, the water and what the pens read. A model, not an analysis
            {expected.waterFrom === 'reading'
              ? '; of the water only its reading is known, so its minerals are supposed'
              : ''}
            .
          </p>
          <Table size="sm">
            <caption className="visually-hidden">Elements, mg/L</caption>
            <thead>
              <tr>
                <th scope="col">Element</th>
                <th scope="col" className="text-end">
                  mg/L
                </th>
              </tr>
            </thead>
            <tbody>
              {inside.elements.map((e) => (
                <tr key={e.symbol}>
                  <th scope="row">
                    {e.element} <span className="small">{e.symbol}</span>
                  </th>
                  <td className="text-end num">{e.mgL < 10 ? e.mgL.toFixed(1) : Math.round(e.mgL)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
          <dl className="facts">
            <dt>
              <Term of="alkalinity">Alkalinity</Term>: acid it uses up before the pH falls
            </dt>
            <dd>
              {inside.dKh.toFixed(1)} °dKH ({inside.alkalinityMeqL.toFixed(2)} meq/L)
            </dd>
            <dt>pH as it stands, in a quarter of an hour, tomorrow standing open</dt>
            <dd>
              {phText(now.ph)}, {phText(now.inAQuarterPh)}, {phText(now.tomorrowPh)}
            </dd>
            <dt>Reads about</dt>
            <dd>{ppmText(now.ppm)} ppm</dd>
            <dt>Clouding</dt>
            <dd>{clouding ?? 'Nothing in it is near dropping out.'}</dd>
          </dl>
        </Offcanvas.Body>
      </Offcanvas>
    </>
  );
}
