// Which scenes a show has and what a take between them does to the microphones.

export type SceneId = 'holding' | 'host';

export const SCENES: readonly { id: SceneId; name: string; microphones: 'shut' | 'open' }[] = [
  { id: 'holding', name: 'Holding card', microphones: 'shut' },
  { id: 'host', name: 'Host', microphones: 'open' },
];

/** Whether the host's microphone goes out: never on a scene that shuts microphones, whatever its own switch says. */
export function microphoneGoesOut(programme: SceneId, ownSwitchOn: boolean): boolean {
  return ownSwitchOn && SCENES.some((scene) => scene.id === programme && scene.microphones === 'open');
}

/** The scene that a take brings next once `programme` is on air: the other of the two. */
export function sceneAfterTake(taken: SceneId): SceneId {
  return taken === 'holding' ? 'host' : 'holding';
}
