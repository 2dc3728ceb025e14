// Which scenes a show has and what a take between them does to what is heard.

export type SceneId = 'holding' | 'host' | 'beside' | 'line';

interface Scene {
  id: SceneId;
  name: string;
  microphones: 'shut' | 'open';
  /** Whether the outside line on the stage is seen on it, and heard. */
  showsLine: boolean;
}

export const SCENES: readonly Scene[] = [
  { id: 'holding', name: 'Holding card', microphones: 'shut', showsLine: false },
  { id: 'host', name: 'Host', microphones: 'open', showsLine: false },
  { id: 'beside', name: 'Host beside the line', microphones: 'open', showsLine: true },
  { id: 'line', name: 'Outside line', microphones: 'open', showsLine: true },
];

const sceneOf = (id: SceneId): Scene | undefined => SCENES.find((scene) => scene.id === id);

/** Whether the host's microphone goes out: never on a scene that shuts microphones, whatever its own switch says. */
export function microphoneGoesOut(programme: SceneId, ownSwitchOn: boolean): boolean {
  return ownSwitchOn && sceneOf(programme)?.microphones === 'open';
}

/** Whether the outside line on the stage is seen on a scene. What is not seen is not heard either. */
export const sceneShowsLine = (id: SceneId): boolean => sceneOf(id)?.showsLine === true;

/** The scene that stands next once `taken` is in the programme, until somebody chooses another. */
export function sceneAfterTake(taken: SceneId): SceneId {
  return taken === 'host' ? 'holding' : 'host';
}
