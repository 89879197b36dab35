/**
 * The simulated account of the first provider: it speaks the provider's protocols on loopback, loaded from a survey, and lets the core decide who may
 * do what. Who may enter: the command line. It enters the core and what the simulated clouds share.
 */
@NullMarked
package warden.standin.aws;

import org.jspecify.annotations.NullMarked;
