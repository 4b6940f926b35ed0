// By day or by night: how the whole interface is drawn.

import { z } from 'zod';
import { keptChoice } from './kept-choice';

export const useDark = keptChoice<{ dark: boolean }>('wembo-dark', z.object({ dark: z.boolean() }), { dark: false });
