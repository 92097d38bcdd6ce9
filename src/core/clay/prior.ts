import type { ClayPrior } from './fit.ts';

/**
 * What is known of expanded clay before a bag's first reading, over the fit's parameters (logarithms of fast and slow capacity, hours and
 * strength, logit of the retained share): mean and covariance of 240 simulated bags (core/simulation/sim-clay.ts, seeds 1000 to 1239), each
 * read thirty times over five baths and fitted with hardly any prior. Made by `bench/clay-prior.ts`; a stand-in until growers' own bags say more.
 */
export const CLAY_AT_LARGE: ClayPrior = Object.freeze({
  mean: [-1.958, -1.062, -0.728, 2.464, 6.423, 6.229, -0.975],
  covariance: [
    [0.0366, 0.0094, -0.0123, -0.0277, -0.0014, 0.0036, 0.0118],
    [0.0094, 0.0374, 0.0112, 0.0192, 0.0032, -0.0034, -0.0024],
    [-0.0123, 0.0112, 0.0255, 0.0134, -0.0006, 0.0087, 0.0036],
    [-0.0277, 0.0192, 0.0134, 0.0529, 0.0033, -0.0107, 0.0021],
    [-0.0014, 0.0032, -0.0006, 0.0033, 0.041, 0.0379, -0.0172],
    [0.0036, -0.0034, 0.0087, -0.0107, 0.0379, 0.053, 0.0003],
    [0.0118, -0.0024, 0.0036, 0.0021, -0.0172, 0.0003, 0.0722],
  ],
});
