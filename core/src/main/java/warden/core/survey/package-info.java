/**
 * The survey: what was asked of an account and what came back, word for word, by line. Reads and writes the format; judges nothing. Who may
 * enter: every room that needs to cite a reading. It enters the room document.
 */
@NullMarked
package warden.core.survey;

import org.jspecify.annotations.NullMarked;
