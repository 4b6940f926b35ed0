import styles from './rating-bars.module.css';

/** A rating as one to five short upright bars; rejected as one bar struck through; unrated as five faint ones. */
export function RatingBars({ rating, size = 'small' }: { rating: number; size?: 'small' | 'large' }) {
  const label = rating === -1 ? 'rejected' : rating === 0 ? 'unrated' : `rating ${rating}`;
  return (
    <span className={styles.bars} data-size={size} role="img" aria-label={label}>
      {rating === -1 ? (
        <i className={styles.struck} />
      ) : (
        [1, 2, 3, 4, 5].map((rung) => <i key={rung} className={rung <= rating ? styles.on : styles.off} />)
      )}
    </span>
  );
}
