/**
 * The layers of the server, from the bottom. A folder (or a file directly in `server/`) imports from layers
 * below its own only; folders of one layer do not import each other. The lint rule and `npm run imports` both
 * read this list.
 */
export const SERVER_LAYERS = [
  ['clock', 'log', 'refusal'],
  ['schedule', 'threads'],
  ['database'],
  ['settings', 'secrets', 'moving'],
  ['access', 'queue'],
  ['http'],
  ['backups', 'health', 'people', 'units', 'definitions'],
  ['datasets', 'registers', 'doubts'],
  ['rounds'],
  ['publishing', 'installation'],
  ['cases'],
  ['reports'],
  ['case-counts'],
  ['checks'],
  ['verification'],
  ['discrepancies', 'reporting'],
  ['district-reports'],
  ['overview'],
  ['bundles', 'search', 'desk'],
  ['jobs'],
  ['middleware', 'plugins', 'api'],
]
