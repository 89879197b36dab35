/**
 * What a check is, what it reports, and the audit that runs them. Who may enter: the checks themselves, reports, the
 * command line. It enters sites and the rooms below; the checks live next door.
 */
@NullMarked
package warden.core.check;

import org.jspecify.annotations.NullMarked;
