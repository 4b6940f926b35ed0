import { fitByPositions, fitByStops } from '@/core/locate/fit';
import { serve } from './serve';

serve<'fit'>(self, {
  fit: async ({ photos, tracks }) => {
    const placed = photos.flatMap(({ utcSeconds, position }) => (position ? [{ ...position, utcSeconds }] : []));
    return {
      positions: fitByPositions(placed, tracks),
      stops: fitByStops(
        photos.map(({ utcSeconds }) => utcSeconds),
        tracks,
      ),
    };
  },
});
