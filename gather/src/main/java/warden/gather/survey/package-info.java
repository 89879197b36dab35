/**
 * Opens survey files: plain or compressed, or standard input. Who may enter: the command line. It enters the core's survey only.
 */
@NullMarked
package warden.gather.survey;

import org.jspecify.annotations.NullMarked;
