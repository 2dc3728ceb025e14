// Runs the stage: devices, compositor, sound, recorder and uplink. The only writer of the stage's
// store. The show itself is the server's: this may vanish and come back at any moment.
import type { AirView, Asked, GuestOrder, Me } from '@lantern/contract';
import {
  cueAfter,
  graphicAfter,
  hasSomething,
  isPersonSeat,
  HOLDING,
  goesOut,
  placesOn,
  sceneAfterTake,
  sceneFor,
  shows,
  sizeWanted,
  type Cue,
  type GuestSeat,
  type Scene,
  type SceneId,
  type Seat,
  type Seated,
  type SourceId,
  type StripName,
  type StripSetting,
  STRIPS,
  TARGETS_LUFS,
  UplinkRate,
  USUAL_TARGET_LUFS,
  VOICE,
  VoiceFollow,
  withVoice,
  type PersonSeat,
} from '@lantern/core';
import { noteServerNow, serverAheadMs, serverNow } from '../app/clock';
import { signedInAgain } from '../app/session';
import { tellSharingHere } from '../app/sharing';
import type { StageContent, ToCompositor } from '../programme/compositor-messages';
import { CompositorHere } from '../programme/start-compositor';
import { ClipsHere } from './clips-here';
import { ReturnEncoder } from './return-encoder';
import { SoundDesk, type Levels } from './sound-desk';
import { StageGuests, type GuestsHost, type StageGuest } from './stage-guests';
import { EMPTY_STAGE, heardGuests, isFilled, playsPicture, sceneIn, useStage, type StageClip, type StageGraphic, type StageState } from './stage-store';
import { MIME_TYPE } from '../app/stage-support';
import { isElsewhere, stageAddress, tabNumbers } from './stage-browser';
import { lateKeeper } from '../late/late-pieces';
import { Uplink, type UplinkListener } from './uplink';

const PIECE_MS = 250;
/** As the rate wants to be asked. */
const WATCH_EVERY_MS = 1_000;
const STOOD_STILL_MS = 400;
const AUDIO_BPS = 128_000;
/** Every network of the rule sheets wants one at least every two seconds; each second also lets viewers join sooner. With little to send it would take most of it. */
const KEY_FRAME_EVERY_MS = 1_000;
const KEY_FRAME_SELDOM_MS = 1_900;
const LITTLE_KBPS = 1_000;
/** A second take within so many ms is the same press; the time in which this page was busy with the first does not count. */
const TWICE_MS = 400;
/** What was begun here is said by the server soon after it has acknowledged it. */
const SAID_WITHIN_MS = 1_500;
const REMEMBERED_DEVICES = 'lantern-devices';
const SHARE_CHANGES_SCENE = 'lantern-share-changes-scene';
const LEVELLED = 'lantern-levelled';
const TARGET = 'lantern-target-lufs';
/** Of whoever takes the stage over: by then it knows which guests there are, and so long they are waited for, in ms. */
const GUESTS_KNOWN_MS = 900;
const GUESTS_WITHIN_MS = 6_000;
/** So long it is said that a hand-over has not come about, in ms. */
const SAID_FOR_MS = 20_000;

/** Instead of a device: the host by lamplight, and a murmur. */
export const DRAWN = 'drawn';

export class StageEngine {
  private readonly compositor: CompositorHere;
  private readonly picture = new MediaStreamTrackGenerator<VideoFrame>({ kind: 'video' });
  private readonly sound: SoundDesk;
  private readonly uplink: Uplink;
  private readonly clips: ClipsHere;
  private readonly abort = new AbortController();
  private devices: MediaStream | null = null;
  private recorder: MediaRecorder | null = null;
  private sceneKnown = false;
  private lineOnStage: string | null = null;
  private shared: MediaStream | null = null;
  private choosesShare = false;
  /** In which size each own picture was asked for. */
  private readonly sizes = new WeakMap<MediaStreamTrack, string>();
  private lastGraphic: string | null = null;
  /** What was last said to be shown. */
  private shownTold = '';
  /** Whether this stage has taken up what was shown when it came to have the show. */
  private tookUp = false;
  /** The cue that has begun since a graphic was shown last. */
  private graphicsCue: string | null = null;
  private graphicSince = serverNow();
  private hiding = 0;
  /** The running order of the show. */
  private cues: readonly Cue[] = [];
  /** The cue that was begun here last, until the server says so too. */
  private begunHere: string | null = null;
  private begunAt = 0;
  /** A cue is being begun: what else is pressed meanwhile is the same press. */
  private begins = false;
  /** From where the next cue was worked out last. */
  private orderFrom = '';
  /** The scene to which the end of a share goes back; null: nothing was changed for it. */
  private beforeShare: SceneId | null = null;
  /** Whether this stage is meant to send. */
  private sends = false;
  private readonly guests: StageGuests;
  /** Encodes the programme for guests, once there are any. */
  private returning: ReturnEncoder | null = null;
  private readonly voices = new VoiceFollow<PersonSeat>();
  /** Who stands in the seat that follows the voice. */
  private voice: PersonSeat | null = 'host';
  private placesTold = '';
  /** Portraits of the library, by small names: for whoever is there without a camera. */
  private portraits: Readonly<Record<string, string>> = {};
  private readonly portraitsShown = new Map<GuestSeat, string>();
  /** Since when this stage is getting its picture ready, so that it can be handed the show; null: it is not. */
  private takesSince: number | null = null;
  private readonly rate = new UplinkRate();
  private watchedAt = performance.now();
  private readonly watching = window.setInterval(() => this.watchUplink(), WATCH_EVERY_MS);

  /** The programme as the host sees it, without sound. */
  readonly preview = new MediaStream([this.picture]);

  constructor(
    showId: string,
    where: { air: Me['air']; tab: string },
    private content: StageContent,
    scenes: readonly Scene[],
    next: HTMLCanvasElement,
  ) {
    this.set({ ...EMPTY_STAGE, scenes, shareChangesScene: localStorage.getItem(SHARE_CHANGES_SCENE) !== 'no' });
    const canvas = next.transferControlToOffscreen();
    const { programme, next: onNext } = this.get();
    this.compositor = new CompositorHere(
      { programme: this.picture.writable, next: canvas, content: this.whole(), onProgramme: this.scene(programme), onNext: this.scene(onNext) },
      (message) => {
        if (message.type === 'seen') this.hearSeen(message.seat, message.seen);
        else if (message.type === 'clip') this.clips.hear(message.id, message.told);
        else if (message.type === 'camera') this.set({ camera: message.look });
        else if (message.type === 'made') this.set({ pictures: { made: message.made, missed: message.missed } });
        else if (message.type === 'called') this.begin();
        else this.set({ trouble: 'The programme could not be drawn. Reload the stage.' });
      },
    );
    this.sound = new SoundDesk(
      (levels) => {
        this.followVoice(levels);
        this.set({ levels, ...(levels.verdicts.microphone !== 'silent' && !this.get().heard && { heard: true }) });
      },
      (soundAsleep) => this.set({ soundAsleep }),
      (seat, sent, came) => this.guests.hearLevels(seat, sent, came),
    );
    this.guests = new StageGuests(this.guestsHost());
    this.clips = new ClipsHere(showId, {
      ...{ get: this.get, set: this.set, sound: this.sound, elseTo: this.afterTake },
      tell: (message, transfer) => this.tell(message, transfer),
      take: (scene, cue) => this.take(scene, cue),
      takeNext: () => this.takeNext(),
      isEmpty: (scene) => !hasSomething(this.scene(scene), this.filled()),
      seatChanged: () => this.fillClip(),
    });
    const target = Number(localStorage.getItem(TARGET));
    this.setLevelled(
      localStorage.getItem(LEVELLED) !== 'no',
      TARGETS_LUFS.find((each) => each === target),
    );
    void this.sound.measure((loudness) => this.set({ loudness })).catch(() => undefined); // A stage without a meter is a stage.
    const listener: UplinkListener = {
      air: (air) => this.hearAir(air),
      connected: (connected) => this.hearConnected(connected),
      signedOut: () => void this.signInAgain(),
      beginRecorder: () => this.startRecorder(),
      refused: (trouble) => this.set({ trouble }),
      asked: (what, by, id) => this.obey(what, by, id),
      lost: (lostTo) => this.set({ lostTo }),
      line: (tag) => this.takeLine(tag),
      handing: (message) => this.hearHanding(message),
      guests: (message) => (message.type === 'returnKey' ? this.returning?.key() : this.guests.hear(message)),
    };
    this.uplink = new Uplink(stageAddress(where.air, showId, where.tab), listener, tabNumbers(), lateKeeper(showId));
    navigator.mediaDevices?.addEventListener('devicechange', () => void this.listDevices(), { signal: this.abort.signal });
    const remembered = JSON.parse(localStorage.getItem(REMEMBERED_DEVICES) ?? '{}') as { cameraId?: string; microphoneId?: string };
    void this.openDevices(remembered.cameraId ?? '', remembered.microphoneId ?? '');
  }

  setContent(content: StageContent): void {
    this.content = { ...content, begun: content.begun || this.content.begun };
    this.tellContent();
    this.setBeginsByItself(this.get().beginsByItself);
  }

  /** The station's scenes, as they are by now: what is in the programme follows at once. */
  setScenes(scenes: readonly Scene[]): void {
    this.set({ scenes });
    if (!scenes.some(({ id }) => id === this.get().next)) this.chooseNext(this.afterTake(this.get().programme));
    else this.tellScenes();
    this.gateSound();
  }

  /** Opens a camera and a microphone; an empty identifier means whichever the browser prefers, DRAWN none at all. */
  async openDevices(cameraId: string, microphoneId: string): Promise<void> {
    const wanted = (id: string) => (id ? { deviceId: { ideal: id } } : {});
    const video = cameraId === DRAWN ? undefined : { ...wanted(cameraId), width: { ideal: 1280 }, height: { ideal: 720 }, frameRate: { ideal: 30 } };
    const audio = microphoneId === DRAWN ? undefined : { ...wanted(microphoneId), echoCancellation: true, noiseSuppression: true };
    const { stream, words } = await openTracks(video, audio);
    const [camera] = stream.getVideoTracks();
    const [microphone] = stream.getAudioTracks();
    const [hasPicture, hasSound] = [camera !== undefined || !video, microphone !== undefined || !audio];
    if (!hasPicture && !hasSound) return this.set({ devices: { state: 'refused', words } });
    if (this.abort.signal.aborted) return stream.getTracks().forEach((track) => track.stop());
    this.devices?.getTracks().forEach((track) => track.stop());
    this.devices = stream;
    this.fitSources();
    if (video) this.seat('host', camera ?? null);
    else this.tell({ type: 'source', seat: 'host', frames: { what: 'figure', seat: 'host' } });
    if (!audio) this.sound.useMicrophone('murmur');
    else if (microphone) this.sound.useMicrophone(stream);
    void this.sound.wake();
    const chosen = {
      cameraId: video ? (camera?.getSettings().deviceId ?? '') : DRAWN,
      microphoneId: audio ? (microphone?.getSettings().deviceId ?? '') : DRAWN,
    };
    localStorage.setItem(REMEMBERED_DEVICES, JSON.stringify(chosen));
    const missing = !hasPicture ? 'No camera: viewers see your name, and hear you.' : !hasSound ? 'No microphone: your picture goes out without sound.' : '';
    this.set({ devices: { state: 'ready', words: missing }, ownCamera: camera ? new MediaStream([camera]) : null, ...chosen });
    this.gateSound();
    // A stage that comes back to its show waits for nothing else.
    const { air } = this.get();
    if (air) this.hearAir(air);
    await this.listDevices();
  }

  /** Shares a screen, a window or a tab: the browser asks which. */
  async share(): Promise<void> {
    // The browser's question stands already.
    if (this.choosesShare) return;
    this.choosesShare = true;
    await this.shareChosen().finally(() => (this.choosesShare = false));
  }

  private async shareChosen(): Promise<void> {
    this.set({ share: { on: false, withSound: false, words: '' } });
    const video = { frameRate: { max: 30 }, width: { max: 1920 }, height: { max: 1080 } };
    const stream = await navigator.mediaDevices.getDisplayMedia({ video, audio: true }).catch((error: unknown) => {
      const refused = error instanceof DOMException && error.name === 'NotAllowedError';
      const words = refused
        ? 'Nothing is shared: the browser was told not to.'
        : 'The browser could not share that. Choose another window, or the whole screen.';
      this.set({ share: { on: false, withSound: false, words } });
      return null;
    });
    if (!stream) return;
    if (this.abort.signal.aborted) return stream.getTracks().forEach((track) => track.stop());
    this.shared?.getTracks().forEach((track) => track.stop());
    this.shared = stream;
    const [track] = stream.getVideoTracks();
    // By the browser's own bar, or because what was shared is gone. Also told where it is stopped from here.
    track!.addEventListener('ended', () => this.shared === stream && this.endShare('What you shared has ended.'), { signal: this.abort.signal });
    tellSharingHere();
    this.uplink.tellSharing(true);
    this.seat('share', track!);
    this.sound.useShare(stream);
    this.set({ share: { on: true, withSound: stream.getAudioTracks().length > 0, words: '' } });
    this.tellContent();
    const forIt = sceneFor(this.get().scenes, 'share');
    const { programme, shareChangesScene } = this.get();
    if (forIt === null || shows(this.scene(programme), 'share')) return this.gateSound();
    this.chooseNext(forIt);
    // From a card nothing goes out by itself: it is next, and waits for a take.
    if (!shareChangesScene || this.scene(programme).layout === 'card' || isElsewhere(this.get().air)) return;
    this.beforeShare = programme;
    this.take(forIt);
  }

  endShare(words = ''): void {
    const stream = this.shared;
    this.shared = null;
    stream?.getTracks().forEach((track) => track.stop());
    this.uplink.tellSharing(false);
    this.seat('share', null);
    this.sound.useShare(null);
    this.set({ share: { on: false, withSound: false, words } });
    this.tellContent();
    const back = this.beforeShare;
    this.beforeShare = null;
    const { programme, next } = this.get();
    if (back !== null && shows(this.scene(programme), 'share')) this.take(back);
    if (!hasSomething(this.scene(next), this.filled())) this.chooseNext(this.afterTake(this.get().programme));
    this.gateSound();
  }

  setShareChangesScene(changes: boolean): void {
    localStorage.setItem(SHARE_CHANGES_SCENE, changes ? 'yes' : 'no');
    this.set({ shareChangesScene: changes });
  }

  /** Nothing is taken on a stage that does not send while another does. */
  take(scene: SceneId, cue: string | null = null): void {
    if (isElsewhere(this.get().air)) return;
    this.uplink.command({ does: 'take', scene, ...(cue !== null && { cue }) });
    this.showScene(scene);
  }

  /** What stands next comes: its scene, and the cue of the running order that begins with it. */
  takeNext(): void {
    const { next, nextCue, air } = this.get();
    if (nextCue === null || air?.showState !== 'onAir') return this.take(next);
    // A press that was two begins one cue.
    if (isElsewhere(air) || this.begins || performance.now() - this.begunAt < TWICE_MS) return;
    this.begunAt = performance.now();
    this.begins = true;
    window.setTimeout(() => {
      this.begins = false;
      this.begunAt = performance.now();
    });
    this.begunHere = nextCue;
    this.graphicsCue = nextCue;
    this.chooseNextGraphic();
    const clip = this.get().clips.find(({ cue, kind }) => cue === nextCue && kind !== null);
    // What is to be seen brings its scene once its first picture is there, and the cue's own after it.
    if (clip && clip.kind !== 'sound') return this.clips.play(clip.id, { cue: nextCue, scene: next });
    this.take(next, nextCue);
    if (clip) this.clips.play(clip.id);
  }

  /** Whether the first scene comes by itself at the start of the show, and microphones open with it. */
  setBeginsByItself(byItself: boolean): void {
    this.set({ beginsByItself: byItself });
    this.tell({ type: 'call', at: byItself ? this.content.startsAt : null });
  }

  /** The start has come. Only the card that counted down to it makes way, and only here. */
  private begin(): void {
    const { air, programme, beginsByItself, next } = this.get();
    if (!beginsByItself || air?.showState !== 'onAir' || isElsewhere(air) || programme !== HOLDING || this.content.begun) return;
    if (this.scene(next).layout === 'card') this.chooseNext(this.afterTake(HOLDING));
    this.takeNext();
  }

  /** A tick of the count, for the host's own ears. */
  tick(): void {
    this.sound.tick();
  }

  /** What can be laid over the picture by now. One that is shown is shown as it is now, and hidden where it was taken out. */
  setGraphics(graphics: readonly StageGraphic[]): void {
    const { shownGraphic } = this.get();
    this.set({ graphics });
    if (shownGraphic !== null && !this.graphic(shownGraphic)) return this.hideGraphic();
    this.chooseNextGraphic();
    this.tellContent();
  }

  /** What visitors ask and are asked, by now. One that is shown and was put aside is hidden, and shown as it is by now where it was shortened or got votes. */
  setQuestions(questions: readonly StageGraphic[]): void {
    const { shownGraphic } = this.get();
    if (JSON.stringify(questions) === JSON.stringify(this.get().questions)) return;
    this.set({ questions });
    if (shownGraphic !== null && !this.graphic(shownGraphic)) return this.hideGraphic();
    this.tellContent();
  }

  /** Has a question, or a poll, stand on the picture, or none where one does; without one, the first of its kind. */
  toggleQuestion(id?: string, kind: 'question' | 'poll' = 'question'): void {
    const { questions, shownGraphic } = this.get();
    const ofKind = questions.filter((each) => each.kind === kind);
    const on = ofKind.find((each) => each.id === shownGraphic);
    if (on && (id === undefined || id === on.id)) return this.hideGraphic();
    const wanted = id ?? ofKind[0]?.id;
    if (wanted !== undefined) this.showGraphic(wanted);
  }

  private graphic(id: string | null): StageGraphic | undefined {
    const { graphics, questions } = this.get();
    return [...graphics, ...questions].find((each) => each.id === id);
  }

  /** Shows a graphic; without one, that which is next. */
  showGraphic(id = this.get().nextGraphic): void {
    const graphic = this.graphic(id);
    if (!graphic || this.asksFor('show graphic', graphic.id)) return;
    if (graphic.kind !== 'question' && graphic.kind !== 'poll') this.lastGraphic = graphic.id;
    this.graphicsCue = null;
    this.graphicSince = serverNow();
    this.set({ shownGraphic: graphic.id });
    this.chooseNextGraphic();
    this.tellContent();
    this.hideInTime(graphic);
  }

  private hideInTime(graphic: StageGraphic | undefined): void {
    clearTimeout(this.hiding);
    const seconds = graphic?.hidesAfterS ?? null;
    if (seconds !== null) this.hiding = window.setTimeout(() => this.hideGraphic(), seconds * 1_000);
  }

  hideGraphic(): void {
    if (this.asksFor('hide graphic')) return;
    clearTimeout(this.hiding);
    this.set({ shownGraphic: null });
    this.tellContent();
  }

  private chooseNextGraphic(): void {
    this.set({ nextGraphic: graphicAfter(this.get().graphics, this.lastGraphic, this.graphicsCue)?.id ?? null });
  }

  /** What can be played into the programme by now. */
  setClips(clips: readonly StageClip[]): void {
    this.clips.setClips(clips);
  }

  /** Plays a clip; without one, that which is next. */
  playClip(id?: string): void {
    this.clips.play(id);
  }

  stopClip(): void {
    this.clips.stop();
  }

  private fillClip(): void {
    this.tellContent();
    if (!hasSomething(this.scene(this.get().next), this.filled())) this.chooseNext(this.afterTake(this.get().programme), this.get().nextCue);
    this.gateSound();
  }

  /** The running order as it is by now. */
  setOrder(cues: readonly Cue[]): void {
    this.cues = cues;
    this.followOrder();
  }

  /** Has the next cue stand next again, where a scene was chosen in its place. */
  chooseNextCue(): void {
    this.orderFrom = '';
    this.followOrder();
  }

  /** Viewers see the break card from now on; `backAt`: what it says of when the show goes on. */
  takeBreak(backAt: number | null = null): void {
    this.uplink.command({ does: 'break', backAt });
  }

  /** What viewers are to see: the stage, or an outside line. */
  choose(source: SourceId): void {
    this.uplink.command({ does: 'choose', source });
  }

  /** Somebody chooses what the next take brings: here, or for whoever has the stage. */
  wantNext(next: SceneId): void {
    if (!this.asksFor('next scene', next)) this.chooseNext(next);
  }

  /** Chooses what the next take brings. */
  chooseNext(next: SceneId, nextCue: string | null = null): void {
    this.set({ next, nextCue });
    this.tellScenes();
  }

  /** What is next by the running order, once the show is on air and whenever a cue has begun or the order has changed. */
  private followOrder(): void {
    const { air, programme } = this.get();
    if (air?.showState !== 'onAir' || !this.cues.length) return;
    // Said by now, or refused: then it has not begun.
    const refused = this.uplink.allDone && performance.now() - this.begunAt > SAID_WITHIN_MS;
    if (air.ran.at(-1)?.cue === this.begunHere || refused) this.begunHere = null;
    const last = this.begunHere ?? air.ran.at(-1)?.cue ?? null;
    const from = JSON.stringify([last, air.ran.length, this.cues]);
    if (from === this.orderFrom) return;
    this.orderFrom = from;
    const cue = cueAfter(this.cues, [...air.ran.map((each) => each.cue), ...(this.begunHere === null ? [] : [this.begunHere])]);
    if (!cue) return this.chooseNext(this.afterTake(programme));
    const { scenes } = this.get();
    const own = scenes.find(({ id }) => id === cue.scene);
    const stays = this.scene(programme).layout === 'card' ? scenes.find(({ layout }) => layout !== 'card') : undefined;
    this.chooseNext(own && hasSomething(own, this.filled()) ? own.id : (stays?.id ?? programme), cue.id);
  }

  /** Has an outside line stand on the stage, or none. */
  bring(line: string | null): void {
    this.uplink.command({ does: 'bring', line });
  }

  setStrip(strip: StripName, change: Partial<StripSetting>): void {
    const { strips } = this.get();
    this.set({ strips: { ...strips, [strip]: { ...strips[strip], ...change } } });
    if (strip === 'microphone' && change.on !== undefined) this.uplink.tellMicrophone(change.on);
    this.gateSound();
  }

  /** `targetLufs`: how loud the programme is to be, whether it is brought there or only judged by it. */
  setLevelled(levelled: boolean, targetLufs: number = USUAL_TARGET_LUFS): void {
    localStorage.setItem(LEVELLED, levelled ? 'yes' : 'no');
    localStorage.setItem(TARGET, String(targetLufs));
    this.set({ levelled, targetLufs });
    this.sound.setLevelled(levelled, targetLufs);
  }

  /** The programme's picture and sound as they are made here, without the sound of the outside line. */
  withoutLine(): MediaStream {
    return new MediaStream([this.picture, this.sound.trackWithoutLine]);
  }

  resume(): void {
    this.uplink.command({ does: 'resume' });
  }

  switchMicrophone(on = !this.get().strips.microphone.on): void {
    this.setStrip('microphone', { on });
  }

  /** Sends from this stage from now on; `takeOver`: although another has the show. */
  sendFromHere(takeOver = false): void {
    this.sends = true;
    this.set({ trouble: '', lostTo: '' });
    this.uplink.startSending(takeOver);
  }

  /** Somebody else of the station asks, from a phone or another desk. */
  private obey(what: Asked, by: string, id = ''): void {
    const did = this.did(what, id);
    if (did) this.set({ askedBy: `${by} ${did}.` });
  }

  /** Does what was asked for, and says so in words; empty: there is nothing of that name here. */
  private did(what: Asked, id: string): string {
    switch (what) {
      case 'take the holding card':
        this.showScene(HOLDING);
        return 'took the holding card';
      case 'microphone on':
      case 'microphone off':
        this.switchMicrophone(what === 'microphone on');
        return what === 'microphone on' ? 'switched your microphone on' : 'switched your microphone off';
      case 'show graphic': {
        const graphic = this.graphic(id);
        if (graphic) this.showGraphic(id);
        return graphic ? `shows “${graphic.text}”` : '';
      }
      case 'hide graphic':
        this.hideGraphic();
        return 'hid the graphic';
      case 'next scene': {
        const scene = this.get().scenes.find((each) => each.id === id);
        if (!scene || !hasSomething(scene, this.filled())) return '';
        this.chooseNext(id);
        return `chose “${scene.name}” as next`;
      }
    }
  }

  /** What somebody presses who does not have the stage is done by whoever has it. */
  private asksFor(what: Asked, id?: string): boolean {
    if (!isElsewhere(this.get().air)) return false;
    this.uplink.ask(what, id);
    return true;
  }

  private hearConnected(connected: boolean): void {
    this.set(connected ? { connected, unheardSince: null } : { connected, unheardSince: this.get().unheardSince ?? serverNow() });
    // A new line knows nothing of what is shared and shown.
    if (connected && this.shared) this.uplink.tellSharing(true);
    if (connected) this.shownTold = this.placesTold = '';
    if (connected) this.guests.connected();
  }

  private async signInAgain(): Promise<void> {
    if (await signedInAgain()) this.uplink.tryNow();
  }

  async wakeSound(): Promise<void> {
    await this.sound.wake();
    if (this.recorder) this.recordAnew();
  }

  close(): void {
    this.abort.abort();
    clearInterval(this.watching);
    clearTimeout(this.hiding);
    this.clips.close();
    this.guests.close();
    this.returning?.close();
    this.stopRecorder();
    this.uplink.close();
    for (const stream of [this.devices, this.shared]) stream?.getTracks().forEach((track) => track.stop());
    this.sound.close();
    this.compositor.close();
  }

  private hearAir(air: AirView): void {
    noteServerNow(air.now);
    this.set({ air });
    if (!this.sceneKnown) {
      // The server remembers which scene was on: a stage that comes back shows the same.
      this.sceneKnown = true;
      this.showScene(air.programme);
      this.setContent(this.content);
    }
    this.followLine(air.lineOnStage);
    const onAir = air.showState === 'onAir';
    // What is tried before the show is no part of it.
    if (onAir && this.scene(air.programme).layout !== 'card') this.noteBegun();
    // The show is this stage's: after a reload, or because it was taken over here. Nothing else makes a stage begin by itself.
    if (onAir && air.holdsIt && this.get().devices.state !== 'asking') {
      if (!this.sends) this.sound.restartLoudness();
      this.sends = true;
      this.uplink.startSending();
    } else if (!onAir || (isElsewhere(air) && this.takesSince === null)) this.stopSending();
    // The scene is the server's: every stage follows, once all that was pressed here has been done.
    if (onAir && this.uplink.allDone && air.programme !== this.get().programme) this.showScene(air.programme);
    this.followOrder();
    // Whoever helps sees what is shown where the show is made.
    if (isElsewhere(air) && air.graphic !== this.get().shownGraphic) {
      this.set({ shownGraphic: air.graphic });
      if (this.get().graphics.some(({ id }) => id === air.graphic)) this.lastGraphic = air.graphic;
      this.graphicSince = serverNow();
      this.chooseNextGraphic();
      this.tellContent();
    }
    if (onAir && air.holdsIt && this.uplink.allDone) this.comeBack(air);
    if (!air.holdsIt) this.tookUp = false;
  }

  // ---- handing the stage over

  /** Asks whoever has the stage for it, offers it to another, agrees or does not. */
  handOver(what: { does: 'ask' | 'agree' | 'decline' } | { does: 'offer'; to: string }): void {
    this.set({ trouble: '', notHanded: '', lostTo: '' });
    this.uplink.handOver({ type: 'handOver', ...what });
    // A press: the browser lets the sound be heard from now on.
    letGo(this.sound.wake());
  }

  private hearHanding(message: Parameters<UplinkListener['handing']>[0]): void {
    if (message.type === 'notHanded') {
      const { words: notHanded } = message;
      this.set({ notHanded });
      window.setTimeout(() => this.get().notHanded === notHanded && this.set({ notHanded: '' }), SAID_FOR_MS);
      return;
    }
    const { handing, couldTake } = message;
    this.set({ handing, couldTake, ...(handing && { notHanded: '' }) });
    const takes = handing?.state === 'coming' && handing.part === 'takes';
    if (takes) return this.getReady();
    this.takesSince = null;
    if (isElsewhere(this.get().air)) this.stopSending();
  }

  /** Begins to send once guests who are in have come here too: what is seen next is whole. */
  private getReady(): void {
    const now = performance.now();
    this.takesSince ??= now;
    const waits = now - this.takesSince;
    const here = this.get().guests.every(({ broughtIn, connected, linked }) => linked || !broughtIn || !connected);
    const ready = waits > GUESTS_KNOWN_MS && (here || waits > GUESTS_WITHIN_MS) && this.get().devices.state !== 'asking';
    if (this.sends || !ready) return;
    this.sound.restartLoudness();
    this.sends = true;
    this.uplink.startSending();
  }

  /** A stage that has the show, again or from somebody else, takes up what was shown. */
  private comeBack({ graphic }: AirView): void {
    if (!this.tookUp) {
      this.tookUp = true;
      this.placesTold = '';
      this.tellGuestPlaces();
      if (graphic !== null && this.get().shownGraphic === null) this.showGraphic(graphic);
      // Shown here already as elsewhere, it goes as it would have gone there.
      else this.hideInTime(this.graphic(graphic));
    }
    this.clips.comeBack();
    this.tellShown();
  }

  private followLine(line: string | null): void {
    if (line === this.lineOnStage) return;
    this.lineOnStage = line;
    this.tell({ type: 'line', tag: null });
    this.sound.line.clear();
    this.tellContent();
    // A scene on which nothing else is seen is no longer next by itself.
    if (line === null && shows(this.scene(this.get().next), 'line')) this.chooseNext(this.afterTake(this.get().programme));
  }

  /** The kind of an FLV tag is its first byte (E.4.1): 8 is sound, 9 picture. */
  private takeLine(tag: ArrayBuffer): void {
    if (this.lineOnStage === null) return;
    const [kind] = new Uint8Array(tag);
    if (kind === 9) this.tell({ type: 'line', tag }, [tag]);
    else if (kind === 8) this.sound.line.takeBytes(tag, performance.now());
  }

  private stopSending(): void {
    if (!this.sends && !this.recorder) return;
    this.sends = false;
    this.uplink.stopSending();
    this.stopRecorder();
  }

  private noteBegun(): void {
    if (this.content.begun) return;
    this.setContent({ ...this.content, begun: true });
  }

  private showScene(scene: SceneId): void {
    const { programme, before } = this.get();
    const from = scene === programme ? before : programme;
    this.clips.sceneTaken(scene);
    this.set({ programme: scene, before: from, next: this.afterTake(scene, from), nextCue: null });
    this.chooseNextCue();
    if (this.scene(scene).layout !== 'card' && this.get().air?.showState === 'onAir') this.noteBegun();
    this.tellScenes();
    this.gateSound();
  }

  private tellScenes(): void {
    const { programme, next } = this.get();
    this.tell({ type: 'scenes', onProgramme: this.scene(programme), onNext: this.scene(next) });
    this.fitSources();
    this.guests.fit();
    this.tellGuestPlaces();
  }

  /** As it is while somebody speaks, where one of its seats follows the voice. */
  private scene = (id: SceneId): Scene => {
    const own = sceneIn(this.get().scenes, id);
    return shows(own, VOICE) ? withVoice(own, this.get().keptInVoice ?? this.voice) : own;
  };
  private afterTake = (taken: SceneId, before = this.get().before): SceneId => sceneAfterTake(this.get().scenes, taken, before, this.filled());

  private filled = (): ((seat: Seat) => boolean) =>
    isFilled({ shares: this.sharesScreen, plays: playsPicture(this.get()), lineOnStage: this.lineOnStage, guests: this.get().guests });

  /** The content with whatever fills a seat at this moment. */
  private whole(): StageContent {
    const thing: Seated = { name: '', caption: '', seen: true };
    const shown = this.graphic(this.get().shownGraphic);
    return {
      ...this.content,
      graphic: shown ? { ...shown, since: this.graphicSince } : null,
      seated: {
        ...this.content.seated,
        ...(this.sharesScreen && { share: thing }),
        ...(playsPicture(this.get()) && { clip: thing }),
        ...(this.lineOnStage !== null && { line: thing }),
        ...Object.fromEntries(this.get().guests.flatMap(({ broughtIn, seat, name, caption }) => (broughtIn ? [[seat, { name, caption, seen: true }]] : []))),
      },
    };
  }

  /** What is shown here is said where it has changed, and whenever nobody can know it. */
  private tellShown(): void {
    const { shownGraphic, clip } = this.get();
    const shown = JSON.stringify([shownGraphic, clip?.id ?? null]);
    if (shown === this.shownTold || !this.get().air?.holdsIt) return;
    this.shownTold = shown;
    this.uplink.tellShown(shownGraphic, clip?.id ?? null);
  }

  private tellContent(): void {
    this.tellShown();
    this.tell({ type: 'content', content: this.whole(), aheadMs: serverAheadMs() });
    this.fitSources();
  }

  private seat(seat: Seat, track: MediaStreamTrack | null): void {
    const frames = track ? new MediaStreamTrackProcessor<VideoFrame>({ track, maxBufferSize: 1 }).readable : null;
    this.tell({ type: 'source', seat, frames }, frames ? [frames] : []);
  }

  /** Has own pictures come in the size in which they are drawn. */
  private fitSources(): void {
    const tracks: Partial<Record<Seat, MediaStreamTrack | undefined>> = {
      host: this.devices?.getVideoTracks()[0],
      share: this.shared?.getVideoTracks()[0],
    };
    for (const seat of placesOn(this.scene(this.get().programme), this.filled())) {
      const track = tracks[seat.seat];
      if (!track || track.readyState === 'ended') continue;
      const { width, height } = sizeWanted(seat);
      const size = `${width}x${height}`;
      if (this.sizes.get(track) === size) continue;
      this.sizes.set(track, size);
      // A source that cannot is made smaller where it is drawn.
      const limit = isPersonSeat(seat.seat) ? 'ideal' : 'max';
      letGo(track.applyConstraints({ width: { [limit]: width }, height: { [limit]: height }, frameRate: 30 }));
    }
  }

  private hearSeen(seat: Seat, seen: boolean): void {
    if (seat === 'host') this.set({ cameraLost: !seen });
  }

  private gateSound(): void {
    const { programme, strips, clip } = this.get();
    const scene = this.scene(programme);
    const besides = { soundAlone: clip?.kind === 'sound', broughtIn: heardGuests(this.get().guests) };
    // Whoever speaks into somebody's ears says nothing to anybody else.
    const aside = this.get().talksTo.length > 0;
    for (const strip of STRIPS) this.sound.set(strip, strips[strip], !(aside && strip === 'microphone') && goesOut(strip, strips[strip], scene, besides));
    this.tellGuestPlaces();
  }

  // ---- guests

  /** Brings a guest in or takes them off, mutes them, writes to them. */
  orderGuest(id: string, order: GuestOrder): void {
    this.guests.order(id, order);
  }

  /** Has guests' pictures come smaller than they are drawn, or as large again. */
  takeGuestsSmaller(smaller: boolean): void {
    this.guests.setSmaller(smaller);
    this.set({ guestsSmaller: smaller });
  }

  /** By their place on the bench, from 1. */
  toggleGuest(place: number): void {
    this.guests.toggle(place);
  }

  /** Has the screen that a guest offers fill the share; null: it goes again. */
  showGuestShare(id: string | null): void {
    this.guests.showShare(id);
    this.set({ guestShare: this.guests.sharing });
  }

  /** Speaks into some ears alone, and to nobody else; empty: no more. */
  talkTo(ids: readonly string[]): void {
    this.set({ talksTo: ids });
    this.sound.talkTo(this.get().guests.flatMap(({ id, seat }) => (ids.includes(id) ? [seat] : [])));
    this.gateSound();
  }

  /** Keeps somebody in the seat that follows the voice, whoever speaks; null: it follows again. */
  keepInVoice(seat: PersonSeat | null): void {
    this.set({ keptInVoice: seat });
    this.tellScenes();
  }

  /** Who may stand there: whoever is heard by viewers. */
  private followVoice(levels: Levels): void {
    const { programme, next, scenes, strips, guests, talksTo } = this.get();
    if (![programme, next].some((id) => shows(sceneIn(scenes, id), VOICE))) return;
    const heard = [
      ...(strips.microphone.on && !talksTo.length ? [{ who: 'host' as const, db: levels.microphone.rmsDb }] : []),
      ...heardGuests(guests).flatMap((seat) => (guests.some((guest) => guest.seat === seat && guest.connected) ? [{ who: seat, db: levels[seat].rmsDb }] : [])),
    ];
    const who = this.voices.hear(heard, performance.now()) ?? 'host';
    if (who === this.voice) return;
    this.voice = who;
    this.tellScenes();
  }

  setPortraits(portraits: Readonly<Record<string, string>>): void {
    this.portraits = portraits;
    for (const guest of this.get().guests) this.showPortrait(guest);
  }

  private get sharesScreen(): boolean {
    return this.shared !== null || this.get().guestShare !== null;
  }

  private guestsHost(): GuestsHost {
    return {
      say: (message) => this.uplink.tellOfGuests(message),
      seat: (seat, track) => {
        this.portraitsShown.delete(seat);
        this.seat(seat, track);
      },
      voice: (seat, track) => this.sound.useGuest(seat, track),
      share: (track) => {
        this.set({ guestShare: this.guests.sharing });
        if (this.shared) return;
        this.seat('share', track);
        this.tellContent();
        if (!track && !hasSomething(this.scene(this.get().next), this.filled())) this.chooseNext(this.afterTake(this.get().programme));
        const forIt = track && sceneFor(this.get().scenes, 'share');
        if (forIt) this.chooseNext(forIt);
      },
      returnSound: (seat) => this.sound.returnFor(seat),
      returnPicture: () => this.picture,
      drawnHeight: (seat) => {
        const place = placesOn(this.scene(this.get().programme), this.filled()).find((each) => each.seat === seat);
        return place ? sizeWanted(place).height : null;
      },
      changed: (guests) => this.hearGuests(guests),
    };
  }

  private hearGuests(guests: readonly StageGuest[]): void {
    this.set({ guests });
    const anybody = guests.some(({ connected, seesReturn }) => connected && seesReturn);
    if (anybody) this.returning ??= new ReturnEncoder(this.picture.clone(), (isKey, bytes) => !this.uplink.sendReturn(isKey, bytes) && this.returning?.key());
    this.returning?.watched(anybody);
    for (const guest of guests) this.showPortrait(guest);
    this.tellContent();
    if (!hasSomething(this.scene(this.get().next), this.filled())) this.chooseNext(this.afterTake(this.get().programme), this.get().nextCue);
    this.gateSound();
  }

  /** Whoever has no camera is seen by their portrait, where the library has one. */
  private showPortrait({ seat, name, ownCamera, connected }: StageGuest): void {
    const url = ownCamera || !connected ? undefined : this.portraits[name.trim().toLowerCase()];
    if (url === undefined || this.portraitsShown.get(seat) === url) return;
    this.portraitsShown.set(seat, url);
    letGo(
      fetch(url)
        .then((answer) => answer.blob())
        .then((blob) => createImageBitmap(blob))
        .then((picture) => {
          if (this.portraitsShown.get(seat) === url) this.tell({ type: 'source', seat, frames: picture }, [picture]);
          else picture.close();
        }),
    );
  }

  /** Each guest is told what of them is in the programme, and whether the next take brings them. */
  private tellGuestPlaces(): void {
    const { guests, programme, next, strips } = this.get();
    if (!guests.length) return;
    const broughtIn = heardGuests(guests);
    const on = (id: SceneId, guest: StageGuest) =>
      guest.broughtIn && (shows(this.scene(id), guest.seat) || goesOut(guest.seat, strips[guest.seat], this.scene(id), { broughtIn }));
    const places = Object.fromEntries(guests.map((guest) => [guest.id, { onScene: on(programme, guest), onNext: on(next, guest) }]));
    const told = JSON.stringify(places);
    if (told === this.placesTold) return;
    this.placesTold = told;
    this.uplink.tellOfGuests({ type: 'guestPlaces', places });
  }

  private startRecorder(): void {
    this.stopRecorder();
    const { pictureKbps } = this.rate.verdict;
    const recorder = new MediaRecorder(new MediaStream([this.picture, this.sound.track]), {
      mimeType: MIME_TYPE,
      videoBitsPerSecond: pictureKbps * 1_000,
      audioBitsPerSecond: AUDIO_BPS,
      videoKeyFrameIntervalDuration: pictureKbps < LITTLE_KBPS ? KEY_FRAME_SELDOM_MS : KEY_FRAME_EVERY_MS,
    } as MediaRecorderOptions);
    let inTurn = Promise.resolve();
    recorder.ondataavailable = ({ data }) => {
      if (!data.size || this.recorder !== recorder) return;
      inTurn = inTurn.then(async () => {
        const bytes = await data.arrayBuffer();
        if (this.recorder === recorder) this.uplink.send(bytes);
      });
    };
    recorder.onerror = () => this.set({ trouble: 'The browser stopped recording. Reload the stage; the show stays on air.' });
    this.recorder = recorder;
    recorder.start(PIECE_MS);
    this.set({ sending: true, trouble: '' });
  }

  /** As a stretch of its own: one that begins in the middle of another would be none. */
  private recordAnew(): void {
    this.uplink.beginAnew();
    this.startRecorder();
  }

  /** Once a second: as much picture as the line takes. */
  private watchUplink(): void {
    const at = performance.now();
    const late = at - this.watchedAt > WATCH_EVERY_MS + STOOD_STILL_MS;
    this.watchedAt = at;
    // What is confirmed late because this page had no time says nothing of the line.
    if (!this.recorder || late) return;
    const confirmed = this.uplink.confirmedLately();
    if (!confirmed) return;
    this.set({ confirmedKbps: confirmed.confirmedKbps });
    const before = this.rate.verdict;
    const now = this.rate.hear({ connected: this.get().connected && !this.uplink.isSilent, ...confirmed });
    if (JSON.stringify(before) !== JSON.stringify(now)) this.set({ uplink: now });
    if (now.pictureKbps !== before.pictureKbps) this.recordAnew();
  }

  private stopRecorder(): void {
    const { recorder } = this;
    this.recorder = null;
    if (recorder && recorder.state !== 'inactive') recorder.stop();
    this.set({ sending: false, confirmedKbps: null });
  }

  private async listDevices(): Promise<void> {
    const all = (await navigator.mediaDevices?.enumerateDevices()) ?? [];
    const named = (kind: MediaDeviceKind, word: string) =>
      all.filter((device) => device.kind === kind).map(({ deviceId, label }, at) => ({ id: deviceId, name: label || `${word} ${at + 1}` }));
    this.set({ cameras: named('videoinput', 'Camera'), microphones: named('audioinput', 'Microphone') });
  }

  private get = (): StageState => useStage.getState();
  private set = (change: Partial<StageState>): void => useStage.setState(change);
  private tell(message: ToCompositor, transfer: Transferable[] = []): void {
    this.compositor.tell(message, transfer);
  }
}

const letGo = (work: Promise<unknown>): void => void work.catch(() => undefined);

/** What could be had of a camera and a microphone, and why not all of it. */
async function openTracks(video?: MediaTrackConstraints, audio?: MediaTrackConstraints): Promise<{ stream: MediaStream; words: string }> {
  const asked = { ...(video && { video }), ...(audio && { audio }) };
  if (!video && !audio) return { stream: new MediaStream(), words: '' };
  const { mediaDevices } = navigator as { mediaDevices?: MediaDevices };
  if (!mediaDevices)
    return { stream: new MediaStream(), words: 'This browser gives no camera to this address. Open the stage on https or on this very machine.' };
  // Both in one question; where one of the two cannot be had, the other alone is better than nothing.
  let words = '';
  const stream = await mediaDevices.getUserMedia(asked).catch(async (error: unknown) => {
    words = wordsOfDeviceError(error);
    const alone = video && audio ? [mediaDevices.getUserMedia({ video }), mediaDevices.getUserMedia({ audio })] : [];
    const each = await Promise.allSettled(alone);
    return new MediaStream(each.flatMap((one) => (one.status === 'fulfilled' ? one.value.getTracks() : [])));
  });
  return { stream, words };
}

function wordsOfDeviceError(error: unknown): string {
  const name = error instanceof DOMException ? error.name : '';
  if (name === 'NotAllowedError') return 'The browser was told not to use camera and microphone here. Allow both beside the address, then try again.';
  if (name === 'NotFoundError') return 'No camera or no microphone was found. Plug both in, then try again.';
  if (name === 'NotReadableError') return 'Another program holds the camera or the microphone. Close it, then try again.';
  return 'Camera and microphone could not be opened. Try again.';
}
