'use client';

// Whether the panel below the search line is open: what it explains, the page below need not explain again.

import { create } from 'zustand';

export const useLineOpen = create<{ open: boolean }>(() => ({ open: false }));
