/**
 * Reads the provider's reports of what a bucket holds. Who may enter: the command line. It enters the core's storage and surveys.
 */
@NullMarked
package warden.gather.aws.inventory;

import org.jspecify.annotations.NullMarked;
