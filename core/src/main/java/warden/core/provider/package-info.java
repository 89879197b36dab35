/**
 * What a provider has to give for its sites to be audited. Who may enter: the list of providers and whoever works through it; each
 * provider's adapter, which gives it. It enters the rooms audit, cloud, mend, names, site, survey.
 */
@NullMarked
package warden.core.provider;

import org.jspecify.annotations.NullMarked;
