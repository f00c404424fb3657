import { queueOptionsSymbol, type TaskQueue } from 'piscina';

type Task = Parameters<TaskQueue['push']>[0];

/** Marks a piece of work as one of a group, such as a job: see FairQueue. */
export const inGroup = <Work extends object>(work: Work, group: string): Work =>
  Object.assign(work, { [queueOptionsSymbol]: { group } });

const groupOf = (task: Task): string => (task[queueOptionsSymbol] as { group?: string } | null)?.group ?? '';

/**
 * Work that waits for a thread: one piece of each group in turn, so that one that brings hundreds at once holds up the
 * others by no more than one piece each.
 */
export class FairQueue implements TaskQueue {
  /** In the order of their turns: the first group is next. */
  private readonly groups = new Map<string, Task[]>();
  size = 0;

  push(task: Task): void {
    const group = groupOf(task);
    const waiting = this.groups.get(group);
    if (waiting) waiting.push(task);
    else this.groups.set(group, [task]);
    this.size++;
  }

  shift(): Task | null {
    for (const [group, waiting] of this.groups) {
      const task = waiting.shift()!;
      this.groups.delete(group);
      if (waiting.length > 0) this.groups.set(group, waiting); // behind the others
      this.size--;
      return task;
    }
    return null;
  }

  remove(task: Task): void {
    const group = groupOf(task);
    const waiting = this.groups.get(group);
    const at = waiting?.indexOf(task) ?? -1;
    if (!waiting || at < 0) return;
    waiting.splice(at, 1);
    if (waiting.length === 0) this.groups.delete(group);
    this.size--;
  }
}
