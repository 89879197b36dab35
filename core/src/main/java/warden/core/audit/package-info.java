/**
 * What a check is, what it reports, the audit that runs them, and the gate that judges an audit, by itself or against an earlier report. Who may
 * enter: the checks themselves, reports, the command line. It enters the seam and the neutral rooms below it; the checks live with their
 * providers.
 */
@NullMarked
package warden.core.audit;

import org.jspecify.annotations.NullMarked;
