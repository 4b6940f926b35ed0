// One of the processes that paint: gets the number of a shoot and of its view, gives their pictures back.

import { paintView } from './archive/paintings';
import { SHOOTS } from './archive/shoots';

process.on('message', ({ number, view }: { number: number; view: number }) => {
  const shoot = SHOOTS[number];
  if (!shoot) throw new Error(`no shoot ${number}`);
  void paintView(shoot, view).then((paintings) => process.send?.({ drive: shoot.drive, paintings }));
});
