import styles from './frame.module.css';

const KEYS: [keys: string[], does: string][] = [
  [['A', 'D', '←', '→'], 'previous, next'],
  [['W', 'S', '↑', '↓'], 'one rung up, down the ladder'],
  [['1', '…', '5', '0'], 'set the rung, clear it'],
  [['Q'], 'reject; again to take back'],
  [['M', '1', '…', '9'], 'marker by its place; M 0 takes it off'],
  [['V'], 'favourite; again to take it back'],
  [['Enter'], 'single view and back; side by side: keep this one, reject the rest'],
  [['Space'], '100 % at the pointer, and back'],
  [['Shift', 'W', 'A', 'S', 'D'], 'at 100 %: move the picture'],
  [['PgUp', 'PgDn'], 'the pages of a file that has several'],
  [['Space', ',', '.', 'Home'], 'of a video: play and stop, a frame back, forward, to the poster'],
  [['B'], 'side by side with the rest of its set, or the selection'],
  [['H', 'L'], 'histogram, clipping'],
  [['C', 'X'], 'correct the picture; before and after'],
  [['F', 'Shift+Enter'], 'fold all panels, full screen'],
  [['T'], 'caption; Ctrl+Enter saves and goes to the next'],
  [['K'], 'add keyword'],
  [['P', '1', '…', '9'], 'kits: what one would change is shown first'],
  [['F1'], 'in a field: what belongs there'],
  [['Menu', 'Shift+F10'], 'what can be done with the photo, as by the right button'],
  [['Tab'], 'in words: a shorthand code grows; the next blank'],
  [['G'], 'into a collection; G and Enter puts it into the last one'],
  [['/'], 'the search line'],
  [['Backspace'], 'clear the search: all photos'],
  [['Shift', '←', '→'], 'on the wall: select a run'],
  [['E'], 'add to the selection, or take from it'],
  [['Ctrl+←', 'Ctrl+→'], 'move without selecting'],
  [['Ctrl+A'], 'select all of the search'],
  [['Ctrl+Z', 'Ctrl+Shift+Z'], 'undo, redo'],
  [['Esc'], 'back; clear the selection'],
];

export function KeysCard() {
  return (
    <dl className={styles.keys}>
      {KEYS.map(([keys, does]) => (
        <div key={does}>
          <dt>
            {keys.map((key) => (
              <kbd key={key}>{key}</kbd>
            ))}
          </dt>
          <dd>{does}</dd>
        </div>
      ))}
    </dl>
  );
}
