/**
 * The second provider's roles: what they grant, to whom they are assigned and where, what denies, and which conditions limit. Decides nothing
 * about access; that is done next door. Who may enter: access, checks, trim. It enters accounts and surveys.
 */
@NullMarked
package warden.core.azure.role;

import org.jspecify.annotations.NullMarked;
