/**
 * The list of providers, and what is made from it. Who may enter: the tools and the command line. It enters every provider's adapter; no room
 * below enters it.
 */
@NullMarked
package warden.core;

import org.jspecify.annotations.NullMarked;
