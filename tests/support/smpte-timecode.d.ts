declare module 'smpte-timecode' {
  export default class Timecode {
    constructor(frames: number, rate: number, drop: boolean);
    toString(): string;
  }
}
