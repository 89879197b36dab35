/**
 * Surveys by way of a folder of saved answers: the reader that makes a survey of one, and what a provider has to say for it in
 * {@link warden.gather.folder.AnswerForm}: how its answers look, and the script that fills such a folder. Who may enter: the command line and
 * the providers. It enters the core's neutral rooms only.
 */
@NullMarked
package warden.gather.folder;

import org.jspecify.annotations.NullMarked;
