// Plays clips and stills into the programme: each brings the scene for clips, and makes way for the one before, or for what stands next.
import { instant, sceneFor, shows, type SceneId } from '@lantern/core';
import { serverNow } from '../app/clock';
import type { ClipTold } from '../programme/clip-player';
import type { ToCompositor } from '../programme/compositor-messages';
import type { SoundDesk } from './sound-desk';
import { isElsewhere } from './stage-browser';
import { playsPicture, sceneIn, STING, type StageClip, type StageState } from './stage-store';

/** A second press within so many ms is the same press. */
const TWICE_MS = 400;
/** What is not there by then does not come. */
const COMES_WITHIN_MS = 5_000;
/** With less left of it a clip is not taken up again. */
const WORTH_MS = 1_000;

/** The stage around it. */
export interface StageAround {
  get: () => StageState;
  set: (change: Partial<StageState>) => void;
  tell: (message: ToCompositor, transfer?: Transferable[]) => void;
  sound: SoundDesk;
  /** Takes a scene; `cue`: which begins with it. */
  take: (scene: SceneId, cue: string | null) => void;
  takeNext: () => void;
  /** The scene to go to from this one where there is none to go back to. */
  elseTo: (scene: SceneId) => SceneId;
  /** Whether nothing would be seen on a scene at this moment. */
  isEmpty: (scene: SceneId) => boolean;
  /** Whether the clip's seat is filled has changed. */
  seatChanged: () => void;
}

/** A cue that begins with a clip, and the scene that it goes on with. */
export interface Begins {
  cue: string;
  scene: SceneId;
}

interface Played {
  clip: StageClip;
  fromMs: number;
  begins: Begins | null;
  /** The scene that was in the programme before; null: it was this one's already. */
  back: SceneId | null;
  timer: number;
}

/** What a stage that is reloaded knows of what it played. */
interface Remembered {
  id: string;
  /** When its beginning was seen, by the server's clock. */
  since: number;
  back: SceneId | null;
}

export class ClipsHere {
  private played: Played | null = null;
  private last: string | null = null;
  private pressedAt = -Infinity;

  constructor(
    private readonly showId: string,
    private readonly stage: StageAround,
  ) {}

  /** What can be played by now. What is played and was taken out of the show ends. */
  setClips(clips: readonly StageClip[]): void {
    this.stage.set({ clips });
    if (this.played && !clips.some(({ id }) => id === this.played!.clip.id)) this.stop();
    this.chooseNext();
  }

  /** Plays a clip; without one, that which is next. */
  play(id: string | null = this.stage.get().nextClip, begins: Begins | null = null): void {
    const { clips, air, programme } = this.stage.get();
    const clip = clips.find((each) => each.id === id);
    if (!clip || isElsewhere(air)) return;
    if (!begins && performance.now() - this.pressedAt < TWICE_MS) return;
    this.pressedAt = performance.now();
    if (clip.kind === null) return this.stage.set({ clipWords: `“${clip.name}” cannot be played: it is not in the library, or not ready yet.` });
    const before = this.played;
    const back = before && playsPicture(this.stage.get()) ? before.back : programme;
    this.end();
    this.begin(clip, clip.fromMs, back, begins);
  }

  /** What is played ends now, and makes way for the scene before. */
  stop(): void {
    const { played } = this;
    if (!played) return;
    this.end();
    this.makeWay(played, 'back');
  }

  /** Somebody took a scene: a picture that is not seen any more is played no further. */
  sceneTaken(scene: SceneId): void {
    const { clip, scenes } = this.stage.get();
    if (clip && clip.kind !== 'sound' && !shows(sceneIn(scenes, scene), 'clip')) this.end();
  }

  /** A stage that comes back to its show takes up what it played, or leaves the scene that nothing fills. */
  comeBack(): void {
    const { clips, scenes, programme, clip: plays } = this.stage.get();
    if (this.played || plays || !shows(sceneIn(scenes, programme), 'clip')) return;
    const known = this.remembered();
    const clip = clips.find(({ id }) => id === known?.id);
    const at = clip && known ? clip.fromMs + serverNow() - known.since : 0;
    if (clip?.kind && known && (clip.kind === 'still' || at < clip.fromMs + clip.lengthMs - WORTH_MS)) this.begin(clip, Math.max(0, at), known.back, null);
    else if (this.stage.isEmpty(programme)) this.stage.take(this.usable(known?.back ?? null), null);
  }

  /** What the compositor tells of a clip. */
  hear(id: string, told: ClipTold): void {
    const { played } = this;
    if (!played || played.clip.id !== id) return;
    switch (told.state) {
      case 'playing':
        return this.on(told.startedAt);
      case 'sound':
        return this.stage.sound.clip.take(told.tag);
      case 'over':
        this.end();
        if (!told.whole) this.stage.set({ clipWords: `“${played.clip.name}” broke off: the rest of it did not come from the server.` });
        return this.makeWay(played, told.whole ? played.clip.then : 'back');
      case 'failed':
        return this.fail();
      case 'ready':
    }
  }

  close(): void {
    clearTimeout(this.played?.timer);
    this.played = null;
  }

  private begin(clip: StageClip, fromMs: number, back: SceneId | null, begins: Begins | null): void {
    this.stage.set({ clipWords: '' });
    this.played = { clip, fromMs, begins, back, timer: window.setTimeout(() => this.fail(), COMES_WITHIN_MS) };
    if (clip.kind === 'still') return void this.showStill(this.played);
    this.stage.tell({ type: 'play', clip: playing(clip, fromMs) });
  }

  private async showStill(played: Played): Promise<void> {
    try {
      const answer = await fetch(played.clip.url);
      const picture = answer.ok ? await createImageBitmap(await answer.blob()) : null;
      if (this.played !== played) return picture?.close();
      if (!picture) return this.fail();
      this.stage.tell({ type: 'source', seat: 'clip', frames: picture }, [picture]);
      this.on(performance.timeOrigin + performance.now());
    } catch {
      if (this.played === played) this.fail();
    }
  }

  /** Its first picture is there. */
  private on(startedAt: number): void {
    const { clip, fromMs, begins, back, timer } = this.played!;
    clearTimeout(timer);
    const { scenes, programme } = this.stage.get();
    const since = serverNow() + (startedAt - (performance.timeOrigin + performance.now()));
    const endsAt = clip.kind === 'still' ? null : instant(since + clip.fromMs + clip.lengthMs - fromMs);
    this.stage.sound.startClip(startedAt, fromMs);
    this.stage.set({ clip: { id: clip.id, kind: clip.kind!, endsAt } });
    this.stage.seatChanged();
    if (clip.id !== STING) this.last = clip.id;
    this.chooseNext();
    const goesBackTo = begins && !shows(sceneIn(scenes, begins.scene), 'clip') ? begins.scene : back;
    this.played = { ...this.played!, back: goesBackTo };
    this.remember({ id: clip.id, since: since - (fromMs - clip.fromMs), back: goesBackTo });
    if (clip.kind === 'sound' || shows(sceneIn(scenes, programme), 'clip')) return;
    const scene = sceneFor(scenes, 'clip');
    if (scene !== null) return this.stage.take(scene, begins?.cue ?? null);
    this.end();
    this.stage.set({ clipWords: `No scene of your station shows clips: bring “Clip or still” into one under Scenes, then play “${clip.name}” again.` });
    if (begins) this.stage.take(this.usable(begins.scene), begins.cue);
  }

  private fail(): void {
    const { played } = this;
    if (!played) return;
    this.end();
    this.stage.set({ clipWords: `“${played.clip.name}” could not be played: it did not come from the server. Try again, or go on without it.` });
    // The cue has begun all the same.
    if (played.begins) this.stage.take(this.usable(played.begins.scene), played.begins.cue);
    else this.makeWay(played, 'back');
  }

  /** Nothing is played any more. */
  private end(): void {
    clearTimeout(this.played?.timer);
    this.played = null;
    this.stage.tell({ type: 'play', clip: null });
    this.stage.tell({ type: 'source', seat: 'clip', frames: null });
    this.stage.sound.endClip();
    this.remember(null);
    if (this.stage.get().clip === null) return;
    this.stage.set({ clip: null });
    this.stage.seatChanged();
  }

  private makeWay({ clip, back }: Played, to: StageClip['then']): void {
    const { programme, scenes } = this.stage.get();
    if (clip.kind === 'sound' || !shows(sceneIn(scenes, programme), 'clip')) return;
    // On a scene that shows others too it was played beside them, and they stay.
    if (back === programme && !this.stage.isEmpty(programme)) return;
    if (to === 'next') this.stage.takeNext();
    else this.stage.take(this.usable(back), null);
  }

  /** A scene to go back to: not one on which nothing would be seen. */
  private usable(back: SceneId | null): SceneId {
    const { programme, scenes } = this.stage.get();
    const scene = scenes.find(({ id }) => id === back);
    return scene && !this.stage.isEmpty(scene.id) ? scene.id : this.stage.elseTo(programme);
  }

  private chooseNext(): void {
    const clips = this.stage.get().clips.filter(({ id }) => id !== STING);
    const after = clips[this.last === null ? 0 : clips.findIndex(({ id }) => id === this.last) + 1] ?? null;
    this.stage.set({ nextClip: after?.id ?? null });
    this.stage.tell({ type: 'clip', clip: after && after.kind !== null && after.kind !== 'still' ? playing(after, after.fromMs) : null });
  }

  private get place(): string {
    return `lantern-clip-${this.showId}`;
  }

  private remember(played: Remembered | null): void {
    if (played) sessionStorage.setItem(this.place, JSON.stringify(played));
    else sessionStorage.removeItem(this.place);
  }

  private remembered(): Remembered | null {
    return JSON.parse(sessionStorage.getItem(this.place) ?? 'null') as Remembered | null;
  }
}

const playing = ({ id, url, kind, untilMs }: StageClip, fromMs: number) => ({
  id,
  url,
  kind: kind === 'sound' ? ('sound' as const) : ('film' as const),
  fromMs,
  untilMs,
});
