// What was noted for the next time, of a show and of its dates before.
import type { Lesson, LessonsView } from '@lantern/contract';
import { useQuery } from '@tanstack/react-query';
import { server } from '../app/server';

export const lessonsKey = (showId: string): readonly string[] => ['show', showId, 'lessons'];

export const useLessons = (showId: string) =>
  useQuery({ queryKey: lessonsKey(showId), queryFn: () => server.get<LessonsView>(`/api/shows/${showId}/lessons`) });

/** What earlier dates have taught about a cue, known by its name; the latest first. */
export const lessonsFor = (view: LessonsView | undefined, cue: string): string[] =>
  (view?.before ?? []).flatMap(({ lessons }) => lessons.filter((lesson: Lesson) => lesson.cue !== '' && lesson.cue === cue.trim()).map(({ words }) => words));
