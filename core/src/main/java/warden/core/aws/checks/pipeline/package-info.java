/**
 * Checks about how a site is published. One class is one check; the package's list is its door. Who may enter: the catalogue only.
 */
@NullMarked
package warden.core.aws.checks.pipeline;

import org.jspecify.annotations.NullMarked;
