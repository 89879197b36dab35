/**
 * Makes surveys of descriptions: templates of the first provider, plans, states and sources of the other tool. What a description tells becomes
 * a reading with its place; what it leaves open becomes unread, with the reason. Who may enter: the command line. It enters the room of YAML.
 */
@NullMarked
package warden.gather.aws.template;

import org.jspecify.annotations.NullMarked;
