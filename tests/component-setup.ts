import '@testing-library/jest-dom/vitest';
import { cleanup, configure } from '@testing-library/react';
import { afterEach } from 'vitest';

// A busy machine is slow, not wrong: waiting ends at once when the thing is there.
configure({ asyncUtilTimeout: 20_000 });

afterEach(() => {
  cleanup();
  sessionStorage.clear();
  localStorage.clear();
});
