/**
 * The actions of the services that the job touches, as data. Who may enter: every room that asks what an action is. It
 * enters no other room but algebra.
 */
@NullMarked
package warden.core.aws.catalogue;

import org.jspecify.annotations.NullMarked;
