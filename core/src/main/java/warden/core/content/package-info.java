/**
 * What a folder that is about to be published holds, as far as checks ask about it. Reads no files: the reader of folders hands its facts in
 * here. Who may enter: checks, rehearsals, and those who read folders. It enters the room survey.
 */
@NullMarked
package warden.core.content;

import org.jspecify.annotations.NullMarked;
