/**
 * The second provider's adapter: what its surveys are asked through. Its rooms lie below. Who may enter: the list of providers, the tools that
 * gather its surveys and play it, and its own rooms' tests. It enters its own rooms and the seam.
 */
@NullMarked
package warden.core.azure;

import org.jspecify.annotations.NullMarked;
