/**
 * What a check is, what it reports, the audit that runs them, and the gate that judges an audit, by itself or against an earlier report. Who
 * may enter: the checks themselves, reports, the command line. It enters the rooms access, algebra, cloud, content, document, pipeline,
 * site, survey.
 */
@NullMarked
package warden.core.audit;

import org.jspecify.annotations.NullMarked;
