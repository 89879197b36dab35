/**
 * What the first provider's tools do in pipelines: its command line, clients that speak its storage's protocol, steps published for it, and
 * the pipelines of its own services. Who may enter: the command line. It enters the readers of pipelines, and the core's catalogue of actions.
 */
@NullMarked
package warden.gather.aws.pipeline;

import org.jspecify.annotations.NullMarked;
