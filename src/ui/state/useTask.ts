'use client';

import { useEffect, useState } from 'react';
import { type TaskView, isFinished } from '@/protocol/tasks';

/** Follows a task by server-sent events until it is finished; the browser reconnects by itself. */
export function useTask(taskId: string | null): TaskView | null {
  const [task, setTask] = useState<TaskView | null>(null);
  useEffect(() => {
    if (!taskId) return;
    const events = new EventSource(`/api/tasks/${taskId}/events`);
    events.onmessage = (event: MessageEvent<string>) => {
      const next = JSON.parse(event.data) as TaskView | null;
      setTask(next);
      if (!next || isFinished(next.state)) events.close();
    };
    return () => events.close();
  }, [taskId]);
  return task && task.id === taskId ? task : null;
}
