/**
 * The aspects of the second provider's surveys, what reading each takes, and how it says that there is none, or more. Who may enter: whoever
 * reads or writes such surveys. It enters the survey's readings.
 */
@NullMarked
package warden.core.azure.survey;

import org.jspecify.annotations.NullMarked;
