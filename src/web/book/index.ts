export { BookPage } from './book-page.tsx';
export { OutPage } from './out-page.tsx';
export { BackupsPage } from './backups-page.tsx';
export { CorrectDialog } from './correct-dialog.tsx';
export { NoteForm } from './log/note-form.tsx';
export { PhonePage } from './phone-page.tsx';
export { SettingsPage } from './settings-page.tsx';
export { ForecastsPage } from './forecasts-page.tsx';
