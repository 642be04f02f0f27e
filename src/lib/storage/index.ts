export type { DesignHead, RunRecord } from './database'
export { listDesigns, loadDesign, removeDesign, saveDesign } from './designs'
export { openFile, saveFile } from './files'
export { listRuns, loadAgreed, loadDump, recordRun, saveAgreed, saveDump, targetKey } from './targets'
