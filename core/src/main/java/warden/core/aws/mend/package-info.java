/**
 * What to change about findings in accounts of the first provider, and the official command line's calls that read and write each document.
 * Who may enter: the provider's adapter. It enters the provider's own rooms, and the neutral words for changes and proposals.
 */
@NullMarked
package warden.core.aws.mend;

import org.jspecify.annotations.NullMarked;
