/**
 * The words in which a visitor's request is followed: addresses, steps, outcomes, remedies. Who follows it is the provider's. Who may enter:
 * every room that follows requests or shows them. It enters the rooms document, survey.
 */
@NullMarked
package warden.core.trace;

import org.jspecify.annotations.NullMarked;
