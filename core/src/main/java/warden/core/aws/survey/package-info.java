/**
 * The aspects of the first provider's surveys, what reading each takes, and the codes by which it says that there is none. Who may enter:
 * whoever reads or writes such surveys. It enters the survey's readings.
 */
@NullMarked
package warden.core.aws.survey;

import org.jspecify.annotations.NullMarked;
