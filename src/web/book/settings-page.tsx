import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { SettingsValues } from '../../contract/shell.ts';
import { get } from '../shell/api.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { ring } from '../shell/ring.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';
import { canStayAwake } from '../shell/use-awake.ts';
import { changeDevice, useDevice } from '../shell/use-device.ts';
import { useShell } from '../shell/use-shell.ts';
import { BookTabs } from './book-tabs.tsx';

const UNIT_WORDS = {
  metric: 'litres and millilitres',
  us: 'US gallons and fluid ounces',
  imperial: 'imperial gallons and fluid ounces',
} as const;
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const FIELDS = ['collection', 'zone', 'units', 'workingDays', 'latitude', 'currency'];

/** Settings: of the collection, and of this device. */
export function SettingsPage() {
  const settings = useQuery({ queryKey: ['settings'], queryFn: () => get<SettingsValues>('/api/shell/settings') });
  return (
    <div className="page settings-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">Settings</div>
        </div>
        <BookTabs />
      </header>
      {settings.isPending ? (
        <Loading what="the settings" />
      ) : settings.data ? (
        <Collection key={JSON.stringify(settings.data)} values={settings.data} />
      ) : (
        <Failed error={settings.error} retry={() => void settings.refetch()} />
      )}
      <ThisDevice />
    </div>
  );
}

function Collection({ values }: { values: SettingsValues }) {
  const [next, setNext] = useState(values);
  const [latitude, setLatitude] = useState(String(values.latitude));
  const shell = useShell();
  const { send, problems, busy } = useAct('/api/shell/settings');
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void send(next, 'Settings kept');
  };
  const zones = typeof Intl.supportedValuesOf === 'function' ? Intl.supportedValuesOf('timeZone') : [values.zone];
  return (
    <form className="sheet settings" noValidate onSubmit={submit} aria-label="The collection">
      <h2>The collection</h2>
      <LabelledField label="Its name" error={problemAt(problems, 'collection')}>
        {(a) => (
          <Form.Control
            {...a}
            value={next.collection}
            onChange={(e) => setNext({ ...next, collection: e.target.value })}
          />
        )}
      </LabelledField>
      <LabelledField
        label="Units for water"
        error={problemAt(problems, 'units')}
        hint="Doses stay in mL and drops. In any field another unit may be written after the number."
      >
        {(a) => (
          <Form.Select
            {...a}
            value={next.units}
            onChange={(e) => setNext({ ...next, units: e.target.value as SettingsValues['units'] })}
          >
            {Object.entries(UNIT_WORDS).map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <div>
        <div className="form-label">Scale of strengths</div>
        <div className="small">
          Every ppm is shown as the pen at hand reads it: {shell.data?.scale === 0.5 ? '½' : shell.data?.scale} scale.
          Choose the pen, or put its scale right, on the <Link to="/shelf">Shelf</Link>.
        </div>
      </div>
      <LabelledField label="Time zone" error={problemAt(problems, 'zone')} hint="A day begins at midnight there.">
        {(a) => (
          <>
            <Form.Control
              {...a}
              list="zones"
              autoComplete="off"
              value={next.zone}
              onChange={(e) => setNext({ ...next, zone: e.target.value })}
            />
            <datalist id="zones">
              {zones.map((zone) => (
                <option key={zone} value={zone} />
              ))}
            </datalist>
          </>
        )}
      </LabelledField>
      <fieldset>
        <legend>Days for the round</legend>
        <div className="d-flex flex-wrap gap-2">
          {DAYS.map((day, i) => (
            <label key={day} className="day">
              <input
                type="checkbox"
                className="form-check-input"
                checked={next.workingDays.includes(i + 1)}
                onChange={(e) =>
                  setNext({
                    ...next,
                    workingDays: e.target.checked
                      ? [...next.workingDays, i + 1].sort()
                      : next.workingDays.filter((d) => d !== i + 1),
                  })
                }
              />{' '}
              {day}
            </label>
          ))}
        </div>
        <div className={problemAt(problems, 'workingDays') ? 'field-error' : 'small'}>
          {problemAt(problems, 'workingDays') ?? 'A pot that falls due on another day is due on the round before it.'}
        </div>
      </fieldset>
      <LabelledField
        label="Latitude, degrees"
        error={problemAt(problems, 'latitude')}
        hint="South of the equator with a minus. How the light goes through the year, and with it the thirst."
      >
        {(a) => (
          <Form.Control
            {...a}
            inputMode="decimal"
            value={latitude}
            onChange={(e) => {
              setLatitude(e.target.value);
              setNext({ ...next, latitude: Number(e.target.value.replace('−', '-').replace(',', '.') || NaN) });
            }}
          />
        )}
      </LabelledField>
      <LabelledField
        label="Prices are in"
        error={problemAt(problems, 'currency')}
        hint="The sign or letters your prices are written with, such as £ or EUR; empty: figures alone."
      >
        {(a) => (
          <Form.Control
            {...a}
            autoComplete="off"
            maxLength={6}
            value={next.currency}
            onChange={(e) => setNext({ ...next, currency: e.target.value })}
          />
        )}
      </LabelledField>
      {otherProblems(problems, FIELDS) && <p className="field-error mb-0">{otherProblems(problems, FIELDS)}</p>}
      <Button type="submit" disabled={busy}>
        Keep the settings
      </Button>
    </form>
  );
}

function ThisDevice() {
  const device = useDevice();
  const [refused, setRefused] = useState(false);
  const canNotify = typeof Notification !== 'undefined' && window.isSecureContext;
  const notify = async (on: boolean) => {
    if (!on) return changeDevice({ notify: false });
    const answer = await Notification.requestPermission();
    setRefused(answer !== 'granted');
    changeDevice({ notify: answer === 'granted' });
  };
  return (
    <section className="sheet settings" aria-label="This device">
      <h2>This device</h2>
      <LabelledField
        label="Hand that taps"
        error={undefined}
        hint="On a phone the small buttons beside the large one lie on this side."
      >
        {(a) => (
          <Form.Select
            {...a}
            value={device.hand}
            onChange={(e) => changeDevice({ hand: e.target.value === 'left' ? 'left' : 'right' })}
          >
            <option value="right">right</option>
            <option value="left">left</option>
          </Form.Select>
        )}
      </LabelledField>
      <Form.Check
        type="switch"
        id="sound"
        label="A clock that runs out rings"
        checked={device.sound}
        onChange={(e) => {
          changeDevice({ sound: e.target.checked });
          if (e.target.checked) ring();
        }}
      />
      <Form.Check
        type="switch"
        id="notify"
        label="and shows a notice of the system"
        disabled={!canNotify}
        checked={device.notify}
        onChange={(e) => void notify(e.target.checked)}
      />
      {(!canNotify || refused) && (
        <div className="small">
          {refused
            ? 'This browser was told not to show notices from here. Allow them in its own settings first.'
            : 'Over plain http on the home network browsers show no notices; the title and the sound still tell.'}
        </div>
      )}
      <Form.Check
        type="switch"
        id="awake"
        label="The screen stays on while this is open"
        checked={device.awake}
        onChange={(e) => changeDevice({ awake: e.target.checked })}
      />
      {!canStayAwake && (
        <div className="small">
          Over plain http the browser allows it only from your first tap on; over the line with a lock, at once.
        </div>
      )}
    </section>
  );
}
