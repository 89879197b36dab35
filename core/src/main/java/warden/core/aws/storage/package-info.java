/**
 * Buckets and objects as the survey shows them: each setting is a reading. Judges nothing. Who may enter: decisions,
 * sites, checks. It enters survey, documents and policy.
 */
@NullMarked
package warden.core.aws.storage;

import org.jspecify.annotations.NullMarked;
