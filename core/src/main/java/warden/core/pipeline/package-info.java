/**
 * What pipelines do when they publish: steps with their places, and the permissions that the steps take. Reads no files: the readers of
 * pipeline files hand their steps in here. Who may enter: checks, trim, and those who read or report pipelines. It enters account, site,
 * storage, cdn, policy, algebra and survey.
 */
@NullMarked
package warden.core.pipeline;

import org.jspecify.annotations.NullMarked;
