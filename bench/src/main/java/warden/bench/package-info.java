/**
 * Measurements: each compares two ways of doing things in one run and prints a ratio, or checks a bound. Nobody enters here.
 */
@NullMarked
package warden.bench;

import org.jspecify.annotations.NullMarked;
