/**
 * One surveyed account as a whole: its buckets, keys and principals, its edges, its names, and whose its canonical ids are. Judges nothing. Who may enter:
 * decisions, sites, checks. It enters the rooms of its parts.
 */
@NullMarked
package warden.core.aws.account;

import org.jspecify.annotations.NullMarked;
