/**
 * One surveyed account as a whole: its buckets, keys, principals and identities. Judges nothing. Who may enter:
 * decisions, sites, checks. It enters the rooms of its parts.
 */
@NullMarked
package warden.core.aws.account;

import org.jspecify.annotations.NullMarked;
