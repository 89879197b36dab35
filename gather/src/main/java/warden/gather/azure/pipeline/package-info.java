/**
 * What the second provider's tools do in pipelines: its command line, cmdlets and copy tool, steps published for it, and the pipelines of its
 * own forge. Who may enter: the command line. It enters the readers of pipelines.
 */
@NullMarked
package warden.gather.azure.pipeline;

import org.jspecify.annotations.NullMarked;
