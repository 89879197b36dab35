/**
 * Checks about names and where they lead. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.dns;

import org.jspecify.annotations.NullMarked;
