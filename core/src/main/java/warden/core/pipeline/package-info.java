/**
 * Pipelines and what their steps do, as read from files. Which permissions that takes is the provider's. Who may enter: checks, reports,
 * trim. It enters the rooms algebra, survey.
 */
@NullMarked
package warden.core.pipeline;

import org.jspecify.annotations.NullMarked;
