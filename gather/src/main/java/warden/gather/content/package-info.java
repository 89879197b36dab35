/**
 * Reads a folder that is about to be published into the facts that checks ask about. Follows no symbolic link, and nothing out of the folder.
 * Who may enter: the command line. It enters the core only.
 */
@NullMarked
package warden.gather.content;

import org.jspecify.annotations.NullMarked;
