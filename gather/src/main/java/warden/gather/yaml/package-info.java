/**
 * Composes YAML texts. Who may enter: the readers of pipelines and of site files. It enters nothing of the gathering.
 */
@NullMarked
package warden.gather.yaml;

import org.jspecify.annotations.NullMarked;
