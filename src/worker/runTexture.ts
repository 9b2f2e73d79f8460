import path from 'node:path';
import { eq } from 'drizzle-orm';
import type { TexturePayload } from '@/protocol/tasks';
import { takeInArtwork } from '@/server/artwork';
import { files as fileTable } from '@/server/db/schema';
import { materialise } from '@/server/files/fileStore';
import { study } from '@/server/study';
import { storeTexture, textureFacts } from '@/server/textures';
import type { TaskRun } from './runTask';

/** Reads a picture or a drawing that is to be a texture, and keeps its samples; the file itself goes. */
export async function runTexture(run: TaskRun, { fileId, fileName }: TexturePayload): Promise<void> {
  const { database, folder, signal } = run;
  run.onFailure(async (transaction) => {
    await transaction.delete(fileTable).where(eq(fileTable.id, fileId));
  });
  await run.progress({ step: 'Reading the picture', items: [] });
  const original = path.join(folder, 'original');
  await materialise(database, fileId, original);
  const { facts, files } = await takeInArtwork(original, fileName, folder, { signal });
  const { grey } = await study({ kind: 'texture', files, facts }, signal);
  const texture = textureFacts(grey, facts);
  await run.finish(async (transaction) => {
    await storeTexture(transaction, texture.picture.sha256, grey);
    await transaction.delete(fileTable).where(eq(fileTable.id, fileId));
    return { texture };
  });
}
