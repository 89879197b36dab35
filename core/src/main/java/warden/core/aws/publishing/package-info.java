/**
 * What deployments to the first provider do, with which credential, and which permissions that takes. Who may enter: checks, trim, the
 * adapter. It enters sites, decisions and pipelines.
 */
@NullMarked
package warden.core.aws.publishing;

import org.jspecify.annotations.NullMarked;
