/**
 * What is told of the first provider alone: the policies that its surveys need. Who may enter: the command line. It enters the reports and the
 * core's surveys of that provider.
 */
@NullMarked
package warden.report.aws;

import org.jspecify.annotations.NullMarked;
