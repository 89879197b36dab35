/**
 * Audits, matrices, traces and proposed policies as screens, text, pages, comments and JSON. Who may enter: the command line. It enters the core only.
 */
@NullMarked
package warden.report;

import org.jspecify.annotations.NullMarked;
