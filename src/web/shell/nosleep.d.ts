declare module 'nosleep.js' {
  /** Keeps a screen on: by the browser's own lock where there is one, else by a film of nothing that plays. */
  export default class NoSleep {
    readonly isEnabled: boolean;
    /** To be called while a tap or a key is handled. */
    enable(): Promise<void>;
    disable(): void;
  }
}
