/**
 * The command line: options, progress, exit codes. Thin; whatever thinks lives in the core. Nobody enters here.
 */
@NullMarked
package warden.cli;

import org.jspecify.annotations.NullMarked;
