export * from './in-photo.ts';
export * from './course.ts';
