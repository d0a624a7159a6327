/** Seconds by which a movie's length may be off: containers count in ticks, some of them in thousandths. */
export const MAX_MOVIE_SECONDS_OFF = 0.002;
/** Seconds of one packet of sound, with what encoders put before the first. */
export const SOUND_PACKET = 0.06;
