import { create } from 'zustand';

/** Whether a store is asked for. */
export const useAskedStore = create<{ isAsked: boolean }>(() => ({ isAsked: false }));
export const askForStore = (): void => useAskedStore.setState({ isAsked: true });
