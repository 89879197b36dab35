/**
 * What only the second provider's side can tell of pipelines: where they publish, what they leave behind at the edge. One class is one check;
 * the package's list is its door. Who may enter: the list of checks.
 */
@NullMarked
package warden.core.azure.checks.pipeline;

import org.jspecify.annotations.NullMarked;
