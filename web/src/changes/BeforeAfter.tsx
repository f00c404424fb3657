import { Modal, UnstyledButton } from '@mantine/core';
import { useState } from 'react';
import type { ChangedBox } from '../../../core/src/formats/index.ts';
import { foreseenPicture, type ForeseenSheets } from '../data/api.ts';
import { useDocuments } from '../data/openProject.ts';

type Sheet = ForeseenSheets['sheets'][number];

/** A sheet as it is printed now and as it will be; what changes has boxes around it. Larger at a click. */
export function BeforeAfter({
  sheet,
  title,
  name,
  names,
}: {
  readonly sheet: Sheet;
  /** Of the sheet. */
  readonly title: string;
  /** Under which the pictures are. */
  readonly name: string;
  readonly names: readonly [was: string, is: string];
}) {
  const [opened, setOpened] = useState(false);
  const both = (
    <div className="beforeafter">
      <Side sheet={sheet} side="was" boxes={sheet.goes} name={name} alt={`${title}, ${names[0]}`} />
      <Side sheet={sheet} side="is" boxes={sheet.comes} name={name} alt={`${title}, ${names[1]}`} />
    </div>
  );
  // Beside the button, which is called what it does.
  const captions = (
    <div className="beforeafter quiet">
      <span>{names[0]}</span>
      <span>{names[1]}</span>
    </div>
  );
  return (
    <>
      <UnstyledButton
        className="beforeafter-open"
        aria-label={`${title} before and after, larger`}
        onClick={() => setOpened(true)}
      >
        {both}
      </UnstyledButton>
      {captions}
      <Modal opened={opened} onClose={() => setOpened(false)} title={`${title}, before and after`} size="92%">
        {both}
        {captions}
      </Modal>
    </>
  );
}

function Side({
  sheet: { id: sheet, paper },
  side,
  boxes,
  name,
  alt,
}: {
  readonly sheet: Sheet;
  readonly side: 'was' | 'is';
  readonly boxes: readonly ChangedBox[];
  readonly name: string;
  readonly alt: string;
}) {
  const { id } = useDocuments();
  const { widthMm, heightMm } = paper[side];
  return (
    <div className="page">
      <img src={foreseenPicture(id, name, sheet, side)} alt={alt} loading="lazy" />
      <svg viewBox={`0 0 ${widthMm} ${heightMm}`} aria-hidden>
        {boxes.map(({ box: [x0, y0, x1, y1] }, at) => (
          <rect key={at} className={side} x={x0} y={y0} width={x1 - x0} height={y1 - y0} />
        ))}
      </svg>
    </div>
  );
}
