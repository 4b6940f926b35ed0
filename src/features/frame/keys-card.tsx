import styles from './frame.module.css';

const KEYS: [keys: string[], does: string][] = [
  [['A', 'D', '←', '→'], 'previous, next'],
  [['W', 'S', '↑', '↓'], 'one rung up, down the ladder'],
  [['1', '…', '5', '0'], 'set the rung, clear it'],
  [['Q'], 'reject; again to take back'],
  [['Enter'], 'single view and back'],
  [['Space'], 'real pixels under the pointer, and back'],
  [['F'], 'fold all panels'],
  [['T'], 'caption; Ctrl+Enter saves and goes to the next'],
  [['K'], 'add keyword'],
  [['/'], 'the scope line'],
  [['Ctrl+A'], 'select all of the scope'],
  [['Ctrl+Z', 'Ctrl+Shift+Z'], 'undo, redo'],
  [['Esc'], 'back; clear the selection'],
];

export function KeysCard() {
  return (
    <dl className={styles.keys}>
      {KEYS.map(([keys, does]) => (
        <div key={does}>
          <dt>{keys.map((key) => <kbd key={key}>{key}</kbd>)}</dt>
          <dd>{does}</dd>
        </div>
      ))}
    </dl>
  );
}
