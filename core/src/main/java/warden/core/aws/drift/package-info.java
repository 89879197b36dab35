/**
 * What changed between two states of accounts of the first provider: who can do what, credentials and their trust, names. Who may enter: the
 * provider's adapter.
 */
@NullMarked
package warden.core.aws.drift;

import org.jspecify.annotations.NullMarked;
