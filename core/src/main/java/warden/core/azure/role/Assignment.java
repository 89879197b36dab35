package warden.core.azure.role;

import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/**
 * A role that is assigned to somebody, somewhere.
 *
 * @param principalId the object id of a user, a service principal, a managed identity or a group, in lower case
 * @param principalType as the provider says it; empty when it does not
 * @param definition what the role grants; absent when it was not read, so that it may be anything
 * @param unread what would have to be read then
 * @param condition absent when there is none
 */
public record Assignment(
        String id,
        String principalId,
        String principalType,
        String scope,
        String roleGuid,
        Optional<RoleDefinition> definition,
        Optional<Need> unread,
        Optional<AssignmentCondition> condition,
        Citation at) {
    private static final Set<String> NO_GROUPS = Set.of("user", "serviceprincipal", "device");

    /** True for a principal that surely stands for nobody else; a type that is not known may be a group's. */
    public boolean isToOne() {
        return NO_GROUPS.contains(principalType.toLowerCase(Locale.ROOT));
    }

    /** Returns the role's name; its identifier where it is not known. */
    public String roleName() {
        return definition
                .map(RoleDefinition::name)
                .or(() -> BuiltInRoles.nameOf(roleGuid))
                .orElse(roleGuid);
    }
}
