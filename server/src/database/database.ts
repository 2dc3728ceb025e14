// The product's SQLite file and the steps by which its tables came to be.
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { AirSampleRow, HappeningRow, SignalRow, Stage } from '../air/air.entities';
import { Channel, PendingLink, RuleNoticeRow } from '../channels/channel.entities';
import { CaptionsRow, LiveNoteRow } from '../captions/captions.entities';
import { ChapterList } from '../chapters/chapter-list.entities';
import { Cut } from '../cutting/cut.entities';
import { Takedown } from '../takedown/takedown.entities';
import { ReplayRow } from '../replays/replay.entities';
import { LessonsRow } from '../lessons/lesson.entities';
import { Look, Piece } from '../artwork/piece.entities';
import { Clip } from '../clips/clip.entities';
import { Contact } from '../contacts/contact.entities';
import { Guest, SpeakersThere } from '../guests/guest.entities';
import { Poll, Vote } from '../polls/poll.entities';
import { AskedTooRow, HoldingRulesRow, HouseTalkRow, HouseWriter, Message, MessageCursor, PreparedAnswersRow } from '../mailbag/message.entities';
import { Question, ShutToQuestions } from '../questions/question.entities';
import { Job } from '../jobs/job.entities';
import { Invitation } from '../invitations/invitation.entities';
import { Line } from '../channels/line.entities';
import { AuditEntry, Person, Session, Station, TeamPass } from '../people/people.entities';
import { Mail } from '../mail/mail.entities';
import { Registration, Subscription } from '../reminders/reminder.entities';
import { AiringPlays, HouseCount } from '../plays/plays.entities';
import { PastFigures, WatchedFigures } from '../report/report.entities';
import { Recording } from '../recording/recording.entities';
import { OutsideLine } from '../outside/outside.entities';
import { SceneRow } from '../scenes/scene.entities';
import { Removal } from '../shows/removal.entities';
import { Airing, Series, Show, Template } from '../shows/show.entities';
import { Beginning1764000000000 } from './migrations/1764000000000-beginning';
import { Planning1764300000000 } from './migrations/1764300000000-planning';
import { Public1764400000000 } from './migrations/1764400000000-public';
import { Artwork1764500000000 } from './migrations/1764500000000-artwork';
import { Desk1764900000000 } from './migrations/1764900000000-desk';
import { Dates1765000000000 } from './migrations/1765000000000-dates';
import { Programme1765100000000 } from './migrations/1765100000000-programme';
import { Stages1765200000000 } from './migrations/1765200000000-stages';
import { Clips1765300000000 } from './migrations/1765300000000-clips';
import { Cues1765400000000 } from './migrations/1765400000000-cues';
import { Scenes1765500000000 } from './migrations/1765500000000-scenes';
import { Ran1765600000000 } from './migrations/1765600000000-ran';
import { ClipsInShows1765800000000 } from './migrations/1765800000000-clips-in-shows';
import { Rehearsals1765900000000 } from './migrations/1765900000000-rehearsals';
import { Straps1766000000000 } from './migrations/1766000000000-straps';
import { Happenings1766100000000 } from './migrations/1766100000000-happenings';
import { Looks1766200000000 } from './migrations/1766200000000-looks';
import { Team1766300000000 } from './migrations/1766300000000-team';
import { SecondFactor1766400000000 } from './migrations/1766400000000-second-factor';
import { Guests1766500000000 } from './migrations/1766500000000-guests';
import { Speakers1766700000000 } from './migrations/1766700000000-speakers';
import { HeldBack1766900000000 } from './migrations/1766900000000-held-back';
import { HouseTalk1767000000000 } from './migrations/1767000000000-house-talk';
import { Polls1767100000000 } from './migrations/1767100000000-polls';
import { Cuts1767700000000 } from './migrations/1767700000000-cuts';
import { Replays1767800000000 } from './migrations/1767800000000-replays';
import { Came1767900000000 } from './migrations/1767900000000-came';
import { Takedowns1768000000000 } from './migrations/1768000000000-takedowns';
import { Counts1768100000000 } from './migrations/1768100000000-counts';
import { Watched1768200000000 } from './migrations/1768200000000-watched';
import { Plays1768300000000 } from './migrations/1768300000000-plays';
import { LeftInvitations1768400000000 } from './migrations/1768400000000-left-invitations';
import { LiveNotes1768500000000 } from './migrations/1768500000000-live-notes';
import { CutCards1768600000000 } from './migrations/1768600000000-cut-cards';
import { OwnSounds1768700000000 } from './migrations/1768700000000-own-sounds';
import { Lessons1767600000000 } from './migrations/1767600000000-lessons';
import { Chapters1767500000000 } from './migrations/1767500000000-chapters';
import { Signal1767400000000 } from './migrations/1767400000000-signal';
import { Silences1767300000000 } from './migrations/1767300000000-silences';
import { PreparedAnswers1767200000000 } from './migrations/1767200000000-prepared-answers';
import { Messages1766800000000 } from './migrations/1766800000000-messages';
import { Questions1766600000000 } from './migrations/1766600000000-questions';
import { Graphics1765700000000 } from './migrations/1765700000000-graphics';
import { Ground1764700000000 } from './migrations/1764700000000-ground';
import { Rooms1764800000000 } from './migrations/1764800000000-rooms';
import { TakingBack1764600000000 } from './migrations/1764600000000-taking-back';
import type { Settings } from '../foundation/settings';
import { keepApart } from '../foundation/together';

export async function openDatabase(settings: Settings): Promise<DataSource> {
  const source = new DataSource({
    type: 'better-sqlite3',
    database: join(settings.dataDir, 'lantern.sqlite'),
    entities: [
      Station,
      Person,
      Session,
      AuditEntry,
      Channel,
      PendingLink,
      RuleNoticeRow,
      Line,
      OutsideLine,
      Show,
      Airing,
      Series,
      Template,
      Removal,
      Registration,
      Subscription,
      Invitation,
      Mail,
      Piece,
      Look,
      TeamPass,
      Guest,
      SpeakersThere,
      Message,
      HouseTalkRow,
      PreparedAnswersRow,
      HouseWriter,
      AskedTooRow,
      Poll,
      Vote,
      MessageCursor,
      HoldingRulesRow,
      Question,
      ShutToQuestions,
      Clip,
      SceneRow,
      Contact,
      AirSampleRow,
      HappeningRow,
      SignalRow,
      LessonsRow,
      Cut,
      ChapterList,
      CaptionsRow,
      LiveNoteRow,
      ReplayRow,
      Takedown,
      Stage,
      Recording,
      Job,
      PastFigures,
      WatchedFigures,
      AiringPlays,
      HouseCount,
    ],
    migrations: [
      Beginning1764000000000,
      Planning1764300000000,
      Public1764400000000,
      Artwork1764500000000,
      TakingBack1764600000000,
      Ground1764700000000,
      Rooms1764800000000,
      Desk1764900000000,
      Dates1765000000000,
      Programme1765100000000,
      Stages1765200000000,
      Clips1765300000000,
      Cues1765400000000,
      Scenes1765500000000,
      Ran1765600000000,
      Graphics1765700000000,
      ClipsInShows1765800000000,
      Rehearsals1765900000000,
      Straps1766000000000,
      Happenings1766100000000,
      Looks1766200000000,
      Team1766300000000,
      SecondFactor1766400000000,
      Guests1766500000000,
      Questions1766600000000,
      Speakers1766700000000,
      Messages1766800000000,
      HeldBack1766900000000,
      HouseTalk1767000000000,
      Polls1767100000000,
      PreparedAnswers1767200000000,
      Silences1767300000000,
      Signal1767400000000,
      Chapters1767500000000,
      Lessons1767600000000,
      Cuts1767700000000,
      Replays1767800000000,
      Came1767900000000,
      Takedowns1768000000000,
      Counts1768100000000,
      Watched1768200000000,
      Plays1768300000000,
      LeftInvitations1768400000000,
      LiveNotes1768500000000,
      CutCards1768600000000,
      OwnSounds1768700000000,
    ],
    migrationsRun: true,
    /** Where another program holds the file, a query that waits for it holds up everything else here. */
    timeout: 50,
    enableWAL: true, // better-sqlite3 switches foreign keys on by itself
  });
  return keepApart(await source.initialize());
}
