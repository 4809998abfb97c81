/** What requests may weigh, bytes. */
export const MB = 1024 * 1024;
/** What any request may send. */
export const USUAL_BYTES = MB;
/** What a library, or changes to one, may weigh. */
export const LIBRARY_BYTES = 64 * MB;
/** Larger ICC profiles are not taken in. */
export const MAX_PROFILE_BYTES = 16 * MB;
/** Larger drawings are refused. */
export const MAX_ARTWORK_BYTES = 20 * MB;

/** How long the bin keeps a deleted library, days. */
export const BIN_DAYS = 30;

/** How long a comment may be, and the name of whoever writes it. */
export const MAX_COMMENT_CHARACTERS = 10_000;
export const MAX_NAME_CHARACTERS = 80;
