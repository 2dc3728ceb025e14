// The worker that keeps late pieces in the browser's own store (File System Standard: the origin private file system, whose
// synchronous handles are for workers alone).
import { LATE_FOLDER, LateStore, type LateFile, type LateFolder, type LateState } from './late-store';

export type ToLate =
  | { type: 'keep'; showId: string; stretch: number | 'next'; from: number; bytes: ArrayBuffer }
  | { type: 'name'; showId: string; stretch: number }
  | { type: 'drop'; showId: string; stretch: number }
  | { type: 'end'; showId: string; stretch: number | 'next' }
  | { type: 'send' };

/** What workers have beside what TypeScript's words for pages know. */
interface AccessHandle {
  getSize(): number;
  read(into: Uint8Array, options: { at: number }): number;
  write(bytes: Uint8Array, options: { at: number }): number;
  truncate(size: number): void;
  flush(): void;
  close(): void;
}
type FileHandle = FileSystemFileHandle & { createSyncAccessHandle(): Promise<AccessHandle>; move(name: string): Promise<void> };

class StoreOfBrowser implements LateFolder {
  private readonly folder = navigator.storage.getDirectory().then((root) => root.getDirectoryHandle(LATE_FOLDER, { create: true }));

  async names(): Promise<string[]> {
    const names: string[] = [];
    for await (const name of (await this.folder).keys()) names.push(name);
    return names;
  }

  async open(name: string): Promise<LateFile | null> {
    const handle = (await (await this.folder).getFileHandle(name, { create: true })) as FileHandle;
    let access: AccessHandle;
    try {
      access = await handle.createSyncAccessHandle();
    } catch (error) {
      if (error instanceof DOMException && error.name === 'NoModificationAllowedError') return null;
      throw error;
    }
    let size = access.getSize();
    return {
      get size() {
        return size;
      },
      append(bytes) {
        const written = access.write(bytes, { at: size });
        if (written < bytes.length) {
          access.truncate(size);
          throw new Error('The browser took no more.');
        }
        access.flush();
        size += written;
      },
      read(at, length) {
        const bytes = new Uint8Array(length);
        return bytes.subarray(0, access.read(bytes, { at }));
      },
      close: () => access.close(),
    };
  }

  async rename(from: string, to: string): Promise<void> {
    const handle = (await (await this.folder).getFileHandle(from)) as FileHandle;
    await handle.move(to);
  }

  async remove(name: string): Promise<void> {
    await (await this.folder).removeEntry(name);
  }
}

const store = new LateStore({
  folder: new StoreOfBrowser(),
  fetch: (...request) => fetch(...request),
  tell: (state: LateState) => postMessage(state),
  wait: (ms) => new Promise((done) => setTimeout(done, ms)),
  now: () => performance.now(),
  random: () => Math.random().toString(36).slice(2, 12),
});

onmessage = ({ data }: MessageEvent<ToLate>) => {
  const done = async (): Promise<void> => {
    if (data.type === 'keep') await store.keep(data.showId, data.stretch, data.from, data.bytes);
    else if (data.type === 'name') await store.name(data.showId, data.stretch);
    else if (data.type === 'drop') await store.drop(data.showId, data.stretch);
    else if (data.type === 'end') await store.end(data.showId, data.stretch);
    else store.send();
  };
  done().catch(() => undefined);
};
