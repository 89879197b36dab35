/**
 * Distributions, their origins and behaviours, as the survey shows them. Judges nothing. Who may enter: sites, checks. It enters
 * survey, documents, policy and storage.
 */
@NullMarked
package warden.core.aws.cdn;

import org.jspecify.annotations.NullMarked;
