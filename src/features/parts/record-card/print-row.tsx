'use client';

// How large a photo prints at the resolution the person works with, and which resolution each paper would give it.

import { Button, InputNumber, Popover } from 'antd';
import { z } from 'zod';
import { type Edges, PAPERS, PRINT_PPI, inchWords, ppiOnPaper, printWords } from '@/core/picture/print-size';
import { keptChoice } from '@/ui/kept-choice';
import styles from './record-card.module.css';

const PPI_LIMITS = { least: 30, most: 2400 };
const pixelsToInch = z.number().int().min(PPI_LIMITS.least).max(PPI_LIMITS.most);

const usePrint = keptChoice('wembo-print', z.object({ ppi: pixelsToInch }), { ppi: PRINT_PPI });

export function PrintRow({ picture }: { picture: Edges }) {
  const ppi = usePrint((state) => state.ppi);
  return (
    <div>
      <dt>Print</dt>
      <dd>
        <Popover
          trigger="click"
          placement="left"
          title="Printed size"
          content={<PrintSheet picture={picture} ppi={ppi} />}
        >
          <Button type="text" size="small" className={styles.printed}>
            {printWords(picture, ppi)}
          </Button>
        </Popover>
      </dd>
    </div>
  );
}

function PrintSheet({ picture, ppi }: { picture: Edges; ppi: number }) {
  return (
    <div className={styles.printSheet}>
      <label>
        Resolution{' '}
        <InputNumber
          size="small"
          min={PPI_LIMITS.least}
          max={PPI_LIMITS.most}
          precision={0}
          value={ppi}
          onChange={(value) => {
            const read = pixelsToInch.safeParse(value);
            if (read.success) usePrint.setState({ ppi: read.data });
          }}
        />{' '}
        ppi
      </label>
      <p className="mono">
        {printWords(picture, ppi)}
        <br />
        {inchWords(picture, ppi)}
      </p>
      <table>
        <caption>As large as it fits the paper</caption>
        <tbody>
          {PAPERS.map((paper) => (
            <tr key={paper.name}>
              <th scope="row">{paper.name}</th>
              <td className="mono">{Math.round(ppiOnPaper(picture, paper))} ppi</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
