/**
 * The simulated account: it speaks the provider's protocols on loopback, loaded from a survey, and lets the core decide who may do
 * what. Who may enter: the command line. It enters the core.
 */
@NullMarked
package warden.standin;

import org.jspecify.annotations.NullMarked;
