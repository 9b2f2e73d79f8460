'use client';

import { Upload } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { ErrorReport } from '@/core/units';
import { type AddedTexture, isFinished } from '@/protocol/tasks';
import { FileButton } from '../../controls/FileButton';
import { Problem } from '../../controls/Problem';
import { cancelTask, toReport, uploadTexture } from '../../state/api';
import { followTask } from '../../state/useTask';

/** Takes a picture or a drawing as a texture. */
export function AddTexture({ onAdded }: { readonly onAdded: (added: AddedTexture) => void }) {
  const [working, setWorking] = useState<{ readonly cancel: (() => void) | null } | null>(null);
  const [problem, setProblem] = useState<ErrorReport | null>(null);
  const following = useRef<(() => void) | null>(null);
  useEffect(() => () => following.current?.(), []);
  const add = async (file: File) => {
    setProblem(null);
    setWorking({ cancel: null });
    try {
      const taskId = await uploadTexture(file);
      setWorking({ cancel: () => void cancelTask(taskId).catch(() => undefined) });
      following.current = followTask(taskId, (task) => {
        if (task && !isFinished(task.state)) return;
        setWorking(null);
        if (task?.state === 'done' && task.result?.texture) onAdded(task.result.texture);
        else if (task?.state !== 'cancelled') {
          setProblem(task?.error ?? { code: 'internal', message: 'The picture could not be read.' });
        }
      });
    } catch (thrown) {
      setWorking(null);
      setProblem(toReport(thrown));
    }
  };
  return (
    <>
      <FileButton
        label="Picture of a texture"
        title="A picture or a drawing: what is dark in it is worn away"
        className="mt-1.5"
        disabled={working !== null}
        onFile={(file) => void add(file)}
      >
        <Upload aria-hidden className="size-4" /> Picture as a texture…
      </FileButton>
      {working && (
        <div role="status" className="mt-1 flex items-center gap-2">
          <span className="flex-1">Reading the picture …</span>
          {working.cancel && (
            <button type="button" className="plain-button" onClick={working.cancel}>
              Cancel
            </button>
          )}
        </div>
      )}
      {problem && <Problem report={problem} onDismiss={() => setProblem(null)} />}
    </>
  );
}
