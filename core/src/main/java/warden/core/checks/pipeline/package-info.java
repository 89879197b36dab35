/**
 * Questions to pipelines, of whichever provider's sites. Who may enter: the list of checks of each provider, and its own checks of
 * pipelines. It enters the rooms audit, cloud, pipeline, secret, site, survey.
 */
@NullMarked
package warden.core.checks.pipeline;

import org.jspecify.annotations.NullMarked;
