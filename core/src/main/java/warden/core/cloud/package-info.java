/**
 * The seam between what is said of sites and the providers that hold them: the surveyed accounts of one provider, and what is asked of them.
 * Who may enter: the audit, the checks about sites, reports and the command line; each provider's adapter, which answers. It enters
 * surveys, access, sites, traces and pipelines, and no provider.
 */
@NullMarked
package warden.core.cloud;

import org.jspecify.annotations.NullMarked;
