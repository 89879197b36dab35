/**
 * The catalogue of checks, joined from the lists of the areas. Who may enter: the command line, reports and tests.
 */
@NullMarked
package warden.core.checks;

import org.jspecify.annotations.NullMarked;
