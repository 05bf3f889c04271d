import { configure } from '@testing-library/react';

// What a page shows after an answer may take longer than a second on a busy machine.
configure({ asyncUtilTimeout: 10_000 });
