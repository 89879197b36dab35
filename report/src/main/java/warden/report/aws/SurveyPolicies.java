package warden.report.aws;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import warden.core.aws.survey.Permissions;
import warden.core.document.JsonLayout;
import warden.core.document.JsonReader;
import warden.report.Json;

/**
 * The policies that surveys need, complete, and nothing more. Source: STS API Reference, "AssumeRole"; AWS Organizations API Reference,
 * "ListAccounts"; IAM User Guide, "Access to AWS accounts owned by third parties".
 */
public final class SurveyPolicies {
    private static final String VERSION = "2012-10-17";

    private SurveyPolicies() {}

    /** Returns what whoever takes the survey of one account needs there. */
    public static String ofRole() {
        return JsonLayout.of(role(), 1);
    }

    private static Map<String, Object> role() {
        return policy(List.of(statement("Survey", Permissions.all(), "*")));
    }

    /**
     * Returns three policies: what the caller needs, what the role of each account needs, and whom the roles trust.
     *
     * @param isOrganization whether the accounts are those of the organization
     * @param assumed the ARNs of the roles that the caller itself assumes, or patterns of them
     * @param hasExternalId whether an external id is sent
     */
    public static String ofMany(boolean isOrganization, Collection<String> assumed, boolean hasExternalId) {
        List<Object> caller = new ArrayList<>();
        if (isOrganization) {
            // As the management account the caller reads the policies that limit the others, which these may not.
            caller.add(statement(
                    "ListAccounts",
                    List.of(
                            "organizations:DescribePolicy",
                            "organizations:ListAccounts",
                            "organizations:ListParents",
                            "organizations:ListPoliciesForTarget"),
                    "*"));
        }
        caller.add(statement("AssumeRoles", List.of("sts:AssumeRole"), List.copyOf(assumed)));
        Map<String, Object> trust = new LinkedHashMap<>();
        trust.put("Effect", "Allow");
        trust.put("Principal", object("AWS", "arn:aws:iam::CALLER-ACCOUNT:role/CALLER-ROLE"));
        trust.put("Action", "sts:AssumeRole");
        if (hasExternalId) {
            trust.put("Condition", object("StringEquals", object("sts:ExternalId", "EXTERNAL-ID")));
        }
        return pretty(object("caller", policy(caller), "role", role(), "trust", policy(List.of(trust))));
    }

    private static Map<String, Object> policy(List<?> statements) {
        return object("Version", VERSION, "Statement", statements);
    }

    private static Map<String, Object> statement(String sid, List<String> actions, Object resource) {
        return object("Sid", sid, "Effect", "Allow", "Action", actions, "Resource", resource);
    }

    private static Map<String, Object> object(Object... members) {
        return warden.core.document.Json.object(members);
    }

    private static String pretty(Map<String, Object> document) {
        return Json.part(
                JsonReader.read(warden.core.document.Json.text(document)).root().orElseThrow());
    }
}
