/**
 * Checks about what is, or will be, published, of whichever provider's sites. Who may enter: the list of checks of each provider. It enters
 * the rooms audit, cloud, content, document, site, survey.
 */
@NullMarked
package warden.core.checks.content;

import org.jspecify.annotations.NullMarked;
