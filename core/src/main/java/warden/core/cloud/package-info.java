/**
 * The seam between what is said of sites and the providers that hold them: the surveyed accounts of one provider, and what is asked of them.
 * Who may enter: the audit, the checks about sites, reports and the command line; each provider's adapter, which answers. It enters the
 * rooms access, pipeline, site, survey, trace, trim.
 */
@NullMarked
package warden.core.cloud;

import org.jspecify.annotations.NullMarked;
