import type { FastifyPluginAsyncZod } from 'fastify-type-provider-zod';
import { z } from 'zod';
import { dipQuery, type DipSubject } from '../../contract/devices.ts';
import { id } from '../../contract/common.ts';
import { dipPen, seededRandom, seedOf, simEc, simPh, type SimSolution } from '../../core/simulation/index.ts';
import type { AppContext } from '../app-context.ts';
import { AppError } from '../app-error.ts';
import type { Meter } from '../database/entities.ts';
import { openStream } from '../event-stream.ts';
import { trueClay, trueHold } from './simulated-clay.ts';
import { trueSoak } from './simulated-soak.ts';
import { readTruth, trueBatch, truePot } from './simulated-truth.ts';
import { scaleOf } from '../collection/index.ts';

const DISPLAY_EVERY_MS = 200;

/**
 * The simulated pens: a dip is a stream of displays that settles to the hidden truth. A pen remembers what it last stood in, and every dip
 * has its own noise.
 */
export const devicesPlugin: FastifyPluginAsyncZod<{ context: AppContext }> = async (app, { context }) => {
  const dips = new Map<string, { count: number; last: number }>();

  app.get(
    '/api/devices/:meterId/dip',
    {
      schema: { params: z.object({ meterId: id }), querystring: dipQuery, tags: ['devices'] },
      config: { apart: true },
    },
    async (request, reply) => {
      const manager = context.database.read.manager;
      const meter = await manager.getRepository<Meter>('meter').findOneBy({ id: request.params.meterId });
      const pen = meter?.device === 'simulated' ? await readTruth(manager, 'pen', meter.id) : undefined;
      if (!meter || !pen) throw new AppError('no-simulated-pen', 'This meter is read by eye: type what it shows.');
      const { subject, subjectId, minutes } = request.query;
      const solution = await solutionOf(subject, subjectId, minutes);
      if (!solution) throw new AppError('not-found', 'There is nothing simulated to dip into there.');
      const truth = meter.quantity === 'pH' ? simPh(solution) : simEc(solution) * scaleOf(meter);
      const before = dips.get(meter.id) ?? { count: 0, last: meter.quantity === 'pH' ? 7 : 0 };
      dips.set(meter.id, { count: before.count + 1, last: truth });
      const random = seededRandom(seedOf(`${meter.id}:${subjectId}:${before.count}:${truth.toFixed(3)}`));
      const display = dipPen({ ...pen, noise: pen.noise + pen.noiseShare * truth }, truth, before.last, random);

      const stream = openStream(reply);
      for (let elapsed = 0; !stream.gone.aborted; elapsed += DISPLAY_EVERY_MS) {
        const shown = display(elapsed / 1000);
        stream.tell(shown);
        if (shown.settled) break;
        await context.timers.wait(DISPLAY_EVERY_MS, stream.gone);
      }
      stream.end();
    },
  );

  async function solutionOf(
    subject: DipSubject,
    subjectId: string,
    minutes: number | undefined,
  ): Promise<SimSolution | undefined> {
    const manager = context.database.read.manager;
    const now = context.clock.now();
    switch (subject) {
      case 'batch':
        return (await trueBatch(manager, subjectId))?.solution;
      case 'pot':
        return (await truePot(manager, subjectId, now, context.settings.zone))?.reservoir;
      case 'clay':
        return trueClay(manager, subjectId, now);
      case 'holdTop':
        return trueHold(manager, subjectId, 'top', now);
      case 'holdHole':
        return trueHold(manager, subjectId, 'hole', now);
      case 'soak':
        return trueSoak(manager, subjectId, minutes, now, context.settings.zone, false);
      case 'soakOpened':
        return trueSoak(manager, subjectId, undefined, now, context.settings.zone, true);
    }
  }
};
