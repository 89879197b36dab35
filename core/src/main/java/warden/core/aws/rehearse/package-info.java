/**
 * A rehearsal of the first provider's account: who is rehearsed with which policies, and what the deployment left in its buckets and edges. Who may
 * enter: the command line.
 */
@NullMarked
package warden.core.aws.rehearse;

import org.jspecify.annotations.NullMarked;
