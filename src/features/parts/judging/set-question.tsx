'use client';

import { Button, Modal } from 'antd';
import { useJudging } from './rate';

/** Asked before a bracket or panorama is torn apart. */
export function SetQuestionCard() {
  const question = useJudging((state) => state.question);
  if (!question) return null;
  const { kind, frames, meant, answer } = question;
  const rest = frames - meant;
  return (
    <Modal
      open
      title={`Part of a ${kind}`}
      onCancel={() => answer('none')}
      width={440}
      footer={
        <>
          <Button onClick={() => answer('none')}>Leave all</Button>
          <Button onClick={() => answer('these')}>Only {meant === 1 ? 'this frame' : `these ${meant}`}</Button>
          <Button type="primary" autoFocus onClick={() => answer('all')}>
            The whole {kind}
          </Button>
        </>
      }
    >
      <p>
        {meant === 1 ? 'This frame belongs' : `These ${meant} frames belong`} to a {kind} of {frames}; without{' '}
        {meant === 1 ? 'it' : 'them'} the other {rest === 1 ? 'one is' : `${rest} are`} not what{' '}
        {rest === 1 ? 'it was' : 'they were'} taken for. You are not asked again about this {kind}.
      </p>
    </Modal>
  );
}
