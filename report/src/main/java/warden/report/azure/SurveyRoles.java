package warden.report.azure;

import java.util.List;
import warden.core.azure.role.CustomRole;
import warden.core.azure.survey.AzureAspects;
import warden.core.document.Json;
import warden.core.document.JsonLayout;
import warden.core.document.JsonLayout.OneLine;

/**
 * The two roles that a survey needs, complete, and nothing more: reading blobs is a right of its own, and needed at web containers only. Source:
 * Azure role-based access control documentation, "Azure custom roles".
 */
public final class SurveyRoles {
    private static final Object SCOPES = new OneLine(List.of("/subscriptions/SUBSCRIPTION"));

    private SurveyRoles() {}

    /** Returns the roles, and the rights in the directory, as JSON. */
    public static String text() {
        AzureAspects aspects = AzureAspects.TABLE;
        List<Object> roles = List.of(
                CustomRole.definition(
                        "Survey",
                        "Read what a survey looks at. Assigned at the subscription.",
                        aspects.actions(),
                        List.of(),
                        SCOPES),
                CustomRole.definition(
                        "Survey: names of blobs",
                        "List blobs. Assigned at each container $web.",
                        List.of(),
                        List.of(AzureAspects.READ_BLOBS),
                        SCOPES));
        return JsonLayout.of(Json.object("roleDefinitions", roles, "directoryPermissions", aspects.ofDirectory()), 1);
    }
}
