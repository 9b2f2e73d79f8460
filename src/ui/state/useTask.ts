'use client';

import { useEffect, useState } from 'react';
import { type TaskView, isFinished } from '@/protocol/tasks';

/**
 * Follows a task by server-sent events until it is finished; the browser reconnects by itself.
 *
 * @param heard called with each state; null where there is no such task any more.
 * @returns ends the following.
 */
export function followTask(taskId: string, heard: (task: TaskView | null) => void): () => void {
  const events = new EventSource(`/api/tasks/${taskId}/events`);
  events.onmessage = (event: MessageEvent<string>) => {
    const next = JSON.parse(event.data) as TaskView | null;
    if (!next || isFinished(next.state)) events.close();
    heard(next);
  };
  return () => events.close();
}

/** A task as it goes on. */
export function useTask(taskId: string | null): TaskView | null {
  const [task, setTask] = useState<TaskView | null>(null);
  useEffect(() => (taskId ? followTask(taskId, setTask) : undefined), [taskId]);
  return task && task.id === taskId ? task : null;
}
