/**
 * Audits and matrices as text and as JSON. Who may enter: the command line. It enters the core only.
 */
@NullMarked
package warden.report;

import org.jspecify.annotations.NullMarked;
