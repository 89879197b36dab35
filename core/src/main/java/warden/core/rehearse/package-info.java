/**
 * What a rehearsed deployment did and needed: its calls, what they add up to, the record of them, and what changed in storage. Who may enter: the
 * providers' houses, the simulated clouds, reports and the command line. It enters the rooms content, document, drift, pipeline, secret, survey.
 */
@NullMarked
package warden.core.rehearse;

import org.jspecify.annotations.NullMarked;
