/**
 * What is told of the second provider alone: the roles that its surveys need. Who may enter: the command line. It enters the core's surveys and
 * roles of that provider.
 */
@NullMarked
package warden.report.azure;

import org.jspecify.annotations.NullMarked;
