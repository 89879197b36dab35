/**
 * The kinds of things that the second provider's checks ask of, with their surroundings. Who may enter: its checks. It enters its rooms and the
 * audit.
 */
@NullMarked
package warden.core.azure.audit;

import org.jspecify.annotations.NullMarked;
