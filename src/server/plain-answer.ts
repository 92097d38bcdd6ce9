/**
 * For answers of hundreds of pots: written as they are. Checking each against its schema took as long as all the rest of the answer; that they are
 * what the contract says is held by the types and by tests (`api.test.ts`).
 */
export const plainAnswer = { serializerCompiler: () => (data: unknown) => JSON.stringify(data) };
