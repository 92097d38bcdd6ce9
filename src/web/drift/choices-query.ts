import type { DriftChoices } from '../../contract/drift.ts';
import { get } from '../shell/api.ts';

/** What a pot can be filled with for a test. */
export const choicesQuery = { queryKey: ['drift', 'choices'], queryFn: () => get<DriftChoices>('/api/drift/choices') };
