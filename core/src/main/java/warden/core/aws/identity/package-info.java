/**
 * Users, groups, roles and the policies they hold, as the survey shows them. Judges nothing. Who may enter:
 * decisions, sites, checks. It enters survey, documents and policy.
 */
@NullMarked
package warden.core.aws.identity;

import org.jspecify.annotations.NullMarked;
