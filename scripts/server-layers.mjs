/**
 * The layers of the server, from the bottom. A folder (or a file directly in `server/`) imports from layers
 * below its own only; folders of one layer do not import each other. The lint rule and `npm run imports` both
 * read this list.
 */
export const SERVER_LAYERS = [
  ['clock', 'give-way', 'log', 'refusal'],
  ['schedule', 'threads', 'measures', 'outside'],
  ['database'],
  ['settings', 'secrets', 'moving', 'changes'],
  ['access', 'queue'],
  ['http'],
  ['backups', 'health', 'people', 'units', 'definitions', 'messages'],
  ['datasets', 'registers', 'doubts'],
  ['rounds'],
  ['publishing', 'installation', 'recipients'],
  ['repository'],
  ['cases'],
  ['reports'],
  ['case-counts', 'recounts', 'refusals'],
  ['checks'],
  ['verification'],
  ['discrepancies', 'reporting'],
  ['district-reports', 'nudges', 'files'],
  ['overview'],
  ['bundles', 'search', 'visits', 'desk', 'extracts', 'sending'],
  ['machines'],
  ['jobs', 'proof'],
  ['middleware', 'plugins', 'api'],
]
