import { deriveJob, writeJobFile, type JobFile } from '@core/job';
import { fileName, saveFile } from '@/files';

export function exportJob(file: JobFile): void {
  saveFile(fileName(deriveJob(file.events, Date.now()).name, 'gutter.json'), 'application/json', writeJobFile(file));
}
