package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What programs may make of a template before it is carried out: they are not run here. Source: CloudFormation User Guide, "Perform custom processing
 * with template macros", "Transform reference"; Serverless Application Model, "Generated CloudFormation resources".
 */
final class CfnMacros {
    static final String INSERT = "Fn::Transform";
    private static final String INCLUDE = "AWS::Include";

    /** Change only resources of types of their own, and write loops out. */
    private static final List<String> LEAVE_ALONE = List.of(
            "AWS::LanguageExtensions",
            "AWS::Serverless-",
            "AWS::SecretsManager-",
            "AWS::CodeDeployBlueGreen",
            "AWS::ServiceCatalog");

    /** Of these the serverless transform makes a role where none is given. */
    private static final List<String> WITH_ROLE = List.of("AWS::Serverless::Function", "AWS::Serverless::StateMachine");

    private static final String ROLE = "Role";

    private final List<String> all = new ArrayList<>();

    CfnMacros(CfnNode root) {
        CfnNode declared = root.get("Transform");
        if (declared != null) {
            List<CfnNode> each = declared.items() == null ? List.of(declared) : declared.items();
            each.forEach(macro -> all.add(name(macro)));
        }
    }

    private static String name(CfnNode macro) {
        CfnNode name = macro.members() == null ? macro : macro.get("Name");
        return name != null && name.scalar() instanceof String text ? text : "that the template names by an expression";
    }

    /** Returns a macro that may change any part of the template; absent where there is none. */
    Optional<String> changingAll() {
        return all.stream()
                .filter(name -> !name.equals(INCLUDE) && LEAVE_ALONE.stream().noneMatch(name::startsWith))
                .findFirst();
    }

    /** True when parts of the template stand elsewhere. */
    boolean includesMore() {
        return all.contains(INCLUDE);
    }

    /** Returns the role that the serverless transform makes for a resource with policies of its own; absent where it makes none. */
    static Optional<String> roleMadeFor(CfnResource each) {
        boolean isMade = WITH_ROLE.contains(each.type())
                && !each.named().isUnknown()
                && !each.named().at(ROLE).isThere()
                && each.named().at("Policies").isThere();
        return isMade ? Optional.of(each.id() + ROLE) : Optional.empty();
    }

    /**
     * True for the logical name of such a role.
     *
     * @param types of the template's resources, by logical name
     */
    static boolean isRoleMade(String id, Map<String, String> types) {
        String of = id.endsWith(ROLE) ? id.substring(0, id.length() - ROLE.length()) : "";
        return WITH_ROLE.contains(types.getOrDefault(of, ""));
    }

    /** True when the resource gives rights to the roles of others, which ones the serverless transform works out. */
    static boolean grantsToOthers(String type, CfnNode resource) {
        return type.equals("AWS::Serverless::Connector") || resource.get("Connectors") != null;
    }
}
