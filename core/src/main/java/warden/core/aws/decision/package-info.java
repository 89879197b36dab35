/**
 * Decides single requests, three-valued, with reasons. The rules are those of the provider's evaluation logic; each
 * class names its page. Who may enter: reach, checks, trace, the command line. It enters account and the rooms below.
 */
@NullMarked
package warden.core.aws.decision;

import org.jspecify.annotations.NullMarked;
