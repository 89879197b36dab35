package warden.core.azure.mend;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.access.Truth;
import warden.core.audit.AuditContext;
import warden.core.audit.Finding;
import warden.core.azure.account.ResourceId;
import warden.core.azure.audit.AzureContext;
import warden.core.azure.edge.Edge;
import warden.core.azure.publishing.AzurePublishing;
import warden.core.azure.role.Assignment;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.AzureCloud;
import warden.core.azure.trim.RoleTrim;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.mend.Change;
import warden.core.mend.Edited;
import warden.core.mend.Mender;
import warden.core.mend.Phase;
import warden.core.mend.Proposal;
import warden.core.survey.SurveyLine;

/**
 * Says what to change about findings in subscriptions of this provider. Source: REST API reference of storage accounts, blob services,
 * containers, CDN endpoints, Front Door routes, record sets, role definitions and role assignments.
 */
public final class AzureMender implements Mender {
    @Override
    public Proposal propose(AuditContext context, Finding finding) {
        return AzureContext.in(context)
                .flatMap(azure -> of(azure, finding))
                .orElseGet(() -> Proposal.byHand(finding, REASONS));
    }

    /** Why findings of a check are left to a person. */
    private static final Map<String, String> REASONS = Map.ofEntries(
            Map.entry("trust-too-wide", "which repository publishes is not told by anything that was read"),
            Map.entry("trust-pull-requests", "which branch publishes is not told by anything that was read"),
            Map.entry("key-old", "the key is in use; making it anew would break who uses it"),
            Map.entry("publisher-long-lived-key", "the key is in use; taking it away would break its publisher"),
            Map.entry("account-key-access", "who else works with the keys is not told by anything that was read"),
            Map.entry("account-network-open", "from where visitors are meant to come is not stated"),
            Map.entry("account-kind-unsupported", "an account cannot be made one of another kind"),
            Map.entry("principal-secret-long", "the secret is in use; taking it away would break its publisher"),
            Map.entry("principal-secret-expiring", "the pipeline has to be given the new secret"),
            Map.entry("open-endpoint-around-cdn", "a private link to the storage costs by its mere presence"),
            Map.entry(
                    "cdn-classic-retiring", "a profile of another kind costs by its mere presence, and takes planning"),
            Map.entry("cdn-logging-off", "the log needs a place that costs by its mere presence"),
            Map.entry(
                    "security-headers-missing",
                    "which headers the pages can bear is not told by anything that was read"),
            Map.entry("storage-logging-off", "the log needs a place that costs by its mere presence"),
            Map.entry("publisher-shared", "each site's pipeline has to change to a principal of its own"),
            Map.entry("index-missing", "the page has to be uploaded"),
            Map.entry("error-missing", "the page has to be uploaded"));

    /** What to do in a subscription as it is in a state. */
    private interface Work {
        Optional<Edited> on(Resources resources);
    }

    private static Change change(AzureAccount account, Phase phase, String name, String subject, Work work) {
        return new Change(
                name + " " + ResourceId.key(subject), phase, name, account.number(), state -> state.accounts().stream()
                        .filter(now -> now.number().equals(account.number()))
                        .findFirst()
                        .flatMap(now -> work.on(new Resources((AzureAccount) now))));
    }

    private static Optional<Proposal> of(AzureContext context, Finding finding) {
        AzureCloud cloud = context.cloud();
        String subject = finding.subject();
        Optional<AzureAccount> account = cloud.accountOf(subject)
                .or(() -> cloud.accounts().size() == 1
                        ? Optional.of(cloud.accounts().get(0))
                        : Optional.empty());
        return account.flatMap(own -> switch (finding.card().id()) {
            case "account-tls-old" ->
                setting(own, subject, "raise-tls-floor", "Ask for TLS 1.2 at least", "minimumTlsVersion", "\"TLS1_2\"");
            case "account-plain-http" ->
                setting(
                        own,
                        subject,
                        "refuse-plain-http",
                        "Answer over HTTPS only",
                        "supportsHttpsTrafficOnly",
                        "true");
            case "account-allows-open-containers" ->
                setting(
                        own,
                        subject,
                        "forbid-open-containers",
                        "Let no container be opened to anonymous readers",
                        "allowBlobPublicAccess",
                        "false");
            case "open-without-site", "anyone-can-list", "old-versions-readable" -> closed(own, subject);
            case "versioning-off" ->
                service(
                        own,
                        subject,
                        Phase.GUARD,
                        "keep-deleted-blobs",
                        "Keep deleted and overwritten blobs for 30 days",
                        "/deleteRetentionPolicy",
                        Json.text(Json.object("enabled", true, "days", 30)));
            case "index-invalid", "hosting-off" ->
                service(
                        own,
                        subject,
                        Phase.SWITCH,
                        "name-index",
                        "Name the index document",
                        "/staticWebsite/indexDocument",
                        "\"index.html\"");
            case "error-unset" ->
                holds(cloud, subject, "404.html")
                        ? service(
                                own,
                                subject,
                                Phase.SWITCH,
                                "name-error-page",
                                "Answer missing pages with 404.html",
                                "/staticWebsite/errorDocument404Path",
                                "\"404.html\"")
                        : Optional.of(Proposal.byHand(
                                "the container holds no 404.html, as far as it was listed", finding.remedy()));
            case "viewer-plain-http" -> redirect(own, subject);
            case "record-dangling" -> withoutRecord(own, subject);
            case "assignment-too-wide",
                    "publisher-is-admin",
                    "publisher-can-escalate",
                    "publisher-can-change-rules",
                    "publisher-beyond-its-sites",
                    "publisher-excess-services",
                    "publisher-excess-actions",
                    "publisher-cannot-publish",
                    "publisher-can-lose-versions" -> roles(context.publishing(), own, finding);
            default -> Optional.empty();
        });
    }

    // --- storage

    private static Optional<Proposal> setting(
            AzureAccount account, String subject, String name, String title, String property, String value) {
        return ResourceId.accountIn(subject)
                .map(id -> Proposal.of(change(
                        account,
                        property.equals("allowBlobPublicAccess") ? Phase.GUARD : Phase.SWITCH,
                        name,
                        id,
                        resources -> resources
                                .patch(
                                        id,
                                        Resources.version("storage-account", id),
                                        title + " (" + ResourceId.name(id) + ")",
                                        Map.of(property, value))
                                .map(edited -> property.equals("minimumTlsVersion") ? edited.unseen() : edited))));
    }

    private static Optional<Proposal> closed(AzureAccount account, String subject) {
        return ResourceId.containerIn(subject)
                .map(id -> Proposal.of(change(
                        account,
                        Phase.SHUT_OUT,
                        "close-container",
                        id,
                        resources -> resources.patch(
                                id,
                                Resources.version("container", id),
                                "Close the container " + ResourceId.name(id) + " to anonymous readers",
                                Map.of("publicAccess", "\"None\"")))));
    }

    private static Optional<Proposal> service(
            AzureAccount account,
            String subject,
            Phase phase,
            String name,
            String title,
            String pointer,
            String value) {
        return ResourceId.accountIn(subject).map(storage -> {
            String id = ResourceId.blobService(storage);
            return Proposal.of(change(account, phase, name, id, resources -> resources
                    .put(
                            id,
                            Resources.version("blob-service", id),
                            title + " (" + ResourceId.name(storage) + ")",
                            properties -> JsonEdit.set(properties, pointer, value))
                    .map(edited -> pointer.startsWith("/staticWebsite") ? edited : edited.unseen())));
        });
    }

    private static boolean holds(AzureCloud cloud, String subject, String blob) {
        return ResourceId.accountIn(subject).stream()
                .flatMap(id -> cloud.storageAccounts().stream().filter(each -> ResourceId.same(each.id(), id)))
                .anyMatch(storage -> storage.web().blobs().has(blob) == Truth.TRUE);
    }

    // --- edges

    private static Optional<Proposal> redirect(AzureAccount account, String subject) {
        boolean isClassic = ResourceId.key(subject).contains("/endpoints/");
        if (isClassic) {
            return Optional.of(
                    Proposal.of(change(account, Phase.SWITCH, "redirect-to-https", subject, resources -> resources
                            .find(subject)
                            .flatMap(endpoint -> resources.patch(
                                    subject,
                                    Resources.version("cdn-endpoint", subject),
                                    "Redirect visitors from plain HTTP to HTTPS (" + ResourceId.name(subject) + ")",
                                    Map.of("deliveryPolicy", redirecting(endpoint)))))));
        }
        List<String> routes = account.edge(subject).stream()
                .flatMap(edge -> edge.routes().stream())
                .filter(route -> route.takesHttp().isPossible() && route.redirectsToHttps() == Truth.FALSE)
                .map(Edge.Route::id)
                .filter(id -> ResourceId.key(id).contains("/routes/"))
                .distinct()
                .toList();
        return Proposal.ofAll(routes.stream()
                .map(id -> change(
                        account,
                        Phase.SWITCH,
                        "redirect-to-https",
                        id,
                        resources -> resources.patch(
                                id,
                                Resources.version("cdn-endpoint", id),
                                "Redirect visitors from plain HTTP to HTTPS (" + ResourceId.name(id) + ")",
                                Map.of("httpsRedirect", "\"Enabled\""))))
                .toList());
    }

    /** A rule behind those that are there. Source: Azure CDN documentation, "Standard rules engine reference", URL redirect. */
    private static String redirecting(JsonPart endpoint) {
        List<Object> rules = new ArrayList<>(endpoint.list("properties", "deliveryPolicy", "rules"));
        int last = endpoint.list("properties", "deliveryPolicy", "rules").stream()
                .flatMap(rule -> rule.text("order").stream())
                .filter(order -> order.matches("[0-9]{1,6}"))
                .mapToInt(Integer::parseInt)
                .max()
                .orElse(0);
        rules.add(Json.object(
                "name",
                "RedirectToHttps",
                "order",
                last + 1,
                "conditions",
                List.of(Json.object(
                        "name",
                        "RequestScheme",
                        "parameters",
                        Json.object(
                                "typeName",
                                "DeliveryRuleRequestSchemeConditionParameters",
                                "operator",
                                "Equal",
                                "negateCondition",
                                false,
                                "matchValues",
                                List.of("HTTP")))),
                "actions",
                List.of(Json.object(
                        "name",
                        "UrlRedirect",
                        "parameters",
                        Json.object(
                                "typeName",
                                "DeliveryRuleUrlRedirectActionParameters",
                                "redirectType",
                                "Moved",
                                "destinationProtocol",
                                "Https")))));
        Map<String, Object> policy = new LinkedHashMap<>();
        policy.put(
                "description",
                endpoint.text("properties", "deliveryPolicy", "description").orElse(""));
        policy.put("rules", rules);
        return Json.text(policy);
    }

    // --- names

    private static final Pattern RECORD = Pattern.compile(".*/dnszones/([^/]+)/(?:a|aaaa|cname)/([^/]+)");

    private static boolean isOf(String id, String host) {
        Matcher record = RECORD.matcher(id.toLowerCase(Locale.ROOT));
        return record.matches()
                && host.equals(record.group(2).equals("@") ? record.group(1) : record.group(2) + "." + record.group(1));
    }

    private static Optional<Proposal> withoutRecord(AzureAccount account, String host) {
        List<String> records = new Resources(account)
                .lists("dns-records").stream()
                        .flatMap(list -> list.document().list("value").stream())
                        .flatMap(set -> set.text("id").stream())
                        .filter(id -> isOf(id, host))
                        .toList();
        return Proposal.ofAll(records.stream()
                .map(id -> change(
                        account,
                        Phase.TIDY,
                        "remove-record",
                        id,
                        resources -> resources.delete(
                                id, Resources.version("dns-records", id), "Take the record of " + host + " away")))
                .toList());
    }

    // --- roles

    private static Optional<Proposal> roles(AzurePublishing publishing, AzureAccount account, Finding finding) {
        Optional<RoleTrim> trim = publishing.principals().stream()
                .filter(each -> each.id().equals(finding.subject()))
                .findFirst()
                .map(each -> RoleTrim.of(each, publishing.deployments()));
        if (trim.isEmpty()) {
            return Optional.empty();
        }
        if (!trim.get().openSteps().isEmpty() || trim.get().needed().isEmpty()) {
            return Optional.of(
                    Proposal.byHand(
                            "what its pipeline needs is not wholly known",
                            "Run \"gentle-warden trim\", complete the roles by what the open steps need, and assign them in the place of today's."));
        }
        if (!trim.get().openRoles().isEmpty()) {
            return Optional.of(new Proposal.ByHand(
                    "not all of its roles were read",
                    finding.remedy(),
                    trim.get().openRoles()));
        }
        List<Change> changes = new ArrayList<>();
        JsonPart proposal = trim.get().proposal();
        Map<String, String> definitions = new LinkedHashMap<>();
        for (JsonPart definition : proposal.list("roleDefinitions")) {
            changes.add(define(account, definition, definitions));
        }
        for (JsonPart assignment : proposal.list("roleAssignments")) {
            changes.add(assign(account, assignment, definitions));
        }
        for (Assignment old : trim.get().own()) {
            changes.add(change(
                    account,
                    Phase.SHUT_OUT,
                    "remove-assignment",
                    old.id(),
                    resources -> resources.delete(
                            old.id(),
                            Resources.version("role-assignment", old.id()),
                            "Take the role " + old.roleName() + " from "
                                    + trim.get().name())));
        }
        return Optional.of(new Proposal.Changes(changes));
    }

    private static String guid(String text) {
        return UUID.nameUUIDFromBytes(text.getBytes(java.nio.charset.StandardCharsets.UTF_8))
                .toString();
    }

    private static Change define(AzureAccount account, JsonPart definition, Map<String, String> definitions) {
        String name = definition.text("Name").orElse("");
        List<String> groups = definition.texts("AssignableScopes");
        String id = "/subscriptions/" + account.number()
                + "/providers/Microsoft.Authorization/roleDefinitions/"
                + guid("role " + account.number() + " " + name);
        definitions.put(name, id);
        String properties = Json.text(Json.object(
                "roleName",
                name,
                "description",
                definition.text("Description").orElse(""),
                "type",
                "CustomRole",
                "permissions",
                List.of(Json.object(
                        "actions",
                        definition.texts("Actions"),
                        "notActions",
                        List.of(),
                        "dataActions",
                        definition.texts("DataActions"),
                        "notDataActions",
                        List.of())),
                "assignableScopes",
                groups));
        return change(account, Phase.LET_IN, "define-role", id, resources -> resources
                .make(
                        id,
                        Resources.version("role-definition", id),
                        "Make the role \"" + name + "\"",
                        properties,
                        resources.lists("role-definition-list"))
                .map(Edited::unseen));
    }

    private static Change assign(AzureAccount account, JsonPart assignment, Map<String, String> definitions) {
        String scope = assignment.text("scope").orElse("");
        String role = definitions.getOrDefault(assignment.text("role").orElse(""), "");
        String principal = assignment.text("principalId").orElse("");
        String id = scope + "/providers/Microsoft.Authorization/roleAssignments/"
                + guid("assignment " + scope + " " + role + " " + principal);
        String properties = Json.text(Json.object(
                "roleDefinitionId",
                role,
                "principalId",
                principal,
                "principalType",
                "ServicePrincipal",
                "scope",
                scope));
        return change(account, Phase.LET_IN, "assign-role", id, resources -> {
            List<SurveyLine> lists = resources.lists("role-assignment-list").stream()
                    .filter(list -> !list.of().endsWith("?atScope()"))
                    .toList();
            return resources
                    .make(
                            id,
                            Resources.version("role-assignment", id),
                            "Assign \"" + assignment.text("role").orElse("") + "\" at " + ResourceId.name(scope),
                            properties,
                            lists)
                    .map(Edited::unseen);
        });
    }
}
