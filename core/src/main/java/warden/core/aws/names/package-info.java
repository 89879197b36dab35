/**
 * The first provider's hosted zones. Who may enter: its accounts, its checks and whoever follows names. It enters names and surveys.
 */
@NullMarked
package warden.core.aws.names;

import org.jspecify.annotations.NullMarked;
