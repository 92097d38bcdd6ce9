import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link, useSearchParams } from 'react-router';
import type { LanView } from '../../contract/shell.ts';
import { Qr } from '../drawing/qr.tsx';
import { get } from '../shell/api.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { placedPots } from './pot-filters.ts';
import { potsQuery } from './pots-page.tsx';

const SIZES = { small: 'small, 38 × 21 mm', large: 'large, 64 × 34 mm' } as const;

/** Labels to print: code, plant, place and a QR code to the pot's page. */
export function LabelsPage() {
  const pots = useQuery(potsQuery);
  const lan = useQuery({ queryKey: ['lan'], queryFn: () => get<LanView>('/api/shell/lan') });
  const [params] = useSearchParams();
  const [size, setSize] = useState<keyof typeof SIZES>('large');
  if (pots.isPending || lan.isPending) return <Loading what="the labels" />;
  if (!pots.data) return <Failed error={pots.error} retry={() => void pots.refetch()} />;
  const wanted = params.getAll('pot');
  const all = placedPots(pots.data);
  const chosen = wanted.length > 0 ? all.filter((p) => wanted.includes(p.id)) : all;
  const home = lan.data?.on ? (lan.data.addresses[0] ?? location.origin) : location.origin;
  return (
    <div className="page labels-page">
      <header className="no-print">
        <div>
          <h1>Labels</h1>
          <div className="small">
            {chosen.length} label{chosen.length === 1 ? '' : 's'}. Each code opens the pot’s page at {home}.
            {!lan.data?.on && ' Only this computer can follow it: let the phone in first (Book, Phone), then print.'}
          </div>
        </div>
        <Form.Select
          className="push w-auto"
          aria-label="Size"
          value={size}
          onChange={(e) => setSize(e.target.value as keyof typeof SIZES)}
        >
          {Object.entries(SIZES).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </Form.Select>
        <Link className="btn btn-outline-secondary" to="/pots">
          Back
        </Link>
        <Button onClick={() => window.print()}>Print</Button>
      </header>
      <div className={`labels ${size}`}>
        {chosen.map((pot) => (
          <div key={pot.id} className="label">
            <Qr text={`${home}/pots/${pot.id}`} name={`${pot.code}: its page`} />
            <div className="min-0">
              <b className="code">{pot.code}</b>
              <span>{pot.name}</span>
              {pot.name !== pot.plant && <span className="small">{pot.plant}</span>}
              <span className="small">{pot.place}</span>
            </div>
          </div>
        ))}
      </div>
    </div>
  );
}
