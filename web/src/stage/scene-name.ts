import { SCENES } from '@lantern/core';

export const sceneName = (id: string): string => SCENES.find((scene) => scene.id === id)?.name ?? '';
