// One of the processes that paint: gets the number of a frame, gives its files back.

import { makeFrame } from './archive/frames';
import { SHOOTS } from './archive/shoots';

process.on('message', ({ shoot, frame }: { shoot: number; frame: number }) => {
  const chosen = SHOOTS[shoot];
  if (!chosen) throw new Error(`no shoot ${shoot}`);
  void makeFrame(chosen, shoot, frame).then((files) => process.send?.({ shoot, files }));
});
