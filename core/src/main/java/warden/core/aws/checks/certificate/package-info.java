/**
 * Checks about the certificates that visitors are shown. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.certificate;

import org.jspecify.annotations.NullMarked;
