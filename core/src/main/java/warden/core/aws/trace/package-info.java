/**
 * A visitor's request through the first provider's edges and storage, and the smallest change that mends what fails. Who may enter: the
 * adapter, checks and the stand-in. It enters decisions, edges, storage and sites, and the neutral words for steps and outcomes.
 */
@NullMarked
package warden.core.aws.trace;

import org.jspecify.annotations.NullMarked;
