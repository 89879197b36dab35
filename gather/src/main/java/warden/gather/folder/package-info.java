/**
 * Surveys by way of a folder of saved answers: the script that fills such a folder, and the reader that makes a survey of one. Who may
 * enter: the command line. It enters the core's survey.
 */
@NullMarked
package warden.gather.folder;

import org.jspecify.annotations.NullMarked;
