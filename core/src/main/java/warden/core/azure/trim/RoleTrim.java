package warden.core.azure.trim;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.access.Decision;
import warden.core.access.Truth;
import warden.core.azure.access.AccessRules;
import warden.core.azure.access.Actions;
import warden.core.azure.access.Caller;
import warden.core.azure.access.RequestContext;
import warden.core.azure.publishing.AzureDeployments;
import warden.core.azure.publishing.AzurePublisher;
import warden.core.azure.publishing.RoleNeeds;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.Roles;
import warden.core.azure.site.WebSite;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.document.JsonSpelling;
import warden.core.pipeline.Needed;
import warden.core.survey.Need;
import warden.core.trim.Trimming;

/**
 * What a principal needs to publish its sites, and the two roles that would do: one on blobs, at its containers, and one to purge, at its edges, so
 * that neither scope carries the other's rights.
 *
 * <p>Source: Azure role-based access control, "Azure custom roles"; Storage documentation, "Authorize access to blobs using Microsoft Entra ID";
 * Azure CDN and Front Door REST API, "Purge Content".
 *
 * @param openSteps the steps of its pipelines that may need more
 * @param openRoles what keeps its rights from being known
 * @param own the assignments that are surely its own
 * @param proof what was proven on a copy of the survey in which it holds nothing else
 */
public record RoleTrim(
        AzurePublisher publisher,
        List<Needed> needed,
        List<OpenStep> openSteps,
        List<Needed> missing,
        List<Need> openRoles,
        List<Assignment> own,
        Set<String> granted,
        RoleProposal roles,
        RoleProof proof)
        implements Trimming {
    private static final int MOST_WORST = 5;
    /** What the program knows of, for counting: what publishing takes, and what is dangerous beside it. */
    private static final List<String> KNOWN = Stream.of(
                    List.of(
                            Actions.READ,
                            Actions.WRITE,
                            Actions.DELETE,
                            Actions.ADD,
                            Actions.MOVE,
                            Actions.DELETE_VERSION,
                            Actions.PERMANENT_DELETE,
                            Actions.PURGE_CLASSIC,
                            Actions.PURGE_FRONT_DOOR),
                    Actions.KEYS,
                    Actions.LOCAL_USERS,
                    Actions.CHANGE_RULES,
                    List.of(
                            "Microsoft.Cdn/profiles/write",
                            "Microsoft.Cdn/profiles/delete",
                            "Microsoft.Cdn/profiles/endpoints/write",
                            "Microsoft.Cdn/profiles/afdEndpoints/write",
                            "Microsoft.Network/dnsZones/write",
                            "Microsoft.Network/dnsZones/delete",
                            "Microsoft.KeyVault/vaults/write",
                            "Microsoft.Resources/deploymentScripts/write",
                            "Microsoft.Web/sites/write",
                            "Microsoft.Compute/virtualMachines/write"))
            .flatMap(List::stream)
            .distinct()
            .toList();

    private static final Map<String, String> DANGERS = dangers();

    private static Map<String, String> dangers() {
        Map<String, String> all = new LinkedHashMap<>();
        all.put(Actions.ASSIGN, "can assign itself any role");
        all.put(Actions.LIST_KEYS, "can fetch the account's key, which is good for every blob");
        Actions.LOCAL_USERS.forEach(
                action -> all.put(action, "can make itself a local user, who works with every container over SFTP"));
        all.put(Actions.ACCOUNT_WRITE, "can open the account to everyone");
        all.put(Actions.STORAGE + "delete", "can delete the account");
        all.put("Microsoft.Cdn/profiles/write", "can point the edge at another origin");
        all.put("Microsoft.Network/dnsZones/write", "can lead the site's names elsewhere");
        all.put("Microsoft.Compute/virtualMachines/write", "can run machines on your bill");
        return all;
    }

    public RoleTrim {
        needed = List.copyOf(needed);
        openSteps = List.copyOf(openSteps);
        missing = List.copyOf(missing);
        own = List.copyOf(own);
        openRoles = List.copyOf(openRoles);
        granted = new LinkedHashSet<>(granted);
    }

    /** Compares and proposes. */
    public static RoleTrim of(AzurePublisher publisher, AzureDeployments deployments) {
        AccessRules rules = publisher.account().reach().rules();
        RoleNeeds needs = RoleNeeds.of(publisher, deployments);
        List<Needed> needed = needs.needed();
        Caller who = Caller.principal(publisher.id());
        List<Needed> missing = needed.stream()
                .filter(each -> rules.decide(who, each.action(), sample(each), RequestContext.PLAIN, false)
                                .outcome()
                        == Decision.Outcome.DENY)
                .toList();
        List<Assignment> own = ownOf(publisher);
        Set<String> granted = new LinkedHashSet<>();
        for (String action : KNOWN) {
            boolean isData = ActionPattern.isData(action);
            if (own.stream().anyMatch(each -> each.definition()
                    .filter(role -> role.grants(action, isData))
                    .isPresent())) {
                granted.add(action);
            }
        }
        List<Need> open = new ArrayList<>();
        rules.roles().openAssignments().ifPresent(open::add);
        own.forEach(each -> each.unread().ifPresent(open::add));
        RoleProposal proposal = RoleProposal.of(publisher, needed);
        List<OpenStep> openSteps = needs.open().stream()
                .map(each -> new OpenStep(
                        each.of().pipeline().place(each.of().step()),
                        each.of().step().command(),
                        each.why()))
                .toList();
        return new RoleTrim(
                publisher,
                needed,
                openSteps,
                missing,
                open,
                own,
                granted,
                proposal,
                RoleProof.of(publisher, proposal, needed));
    }

    private static List<Assignment> ownOf(AzurePublisher publisher) {
        return publisher
                .account()
                .reach()
                .rules()
                .roles()
                .of(publisher.principal().objectId())
                .stream()
                .filter(own -> own.means() == Truth.TRUE)
                .map(Roles.Own::assignment)
                .toList();
    }

    /** Returns what a request with a needed action is asked of. */
    static String sample(Needed needed) {
        return ActionPattern.isData(needed.action()) ? needed.on() + "/blobs/index.html" : needed.on();
    }

    @Override
    public String called() {
        return publisher.id();
    }

    @Override
    public String name() {
        return publisher.principal().called();
    }

    @Override
    public List<WebSite> sites() {
        return publisher.sites();
    }

    @Override
    public List<Need> unread() {
        return openRoles;
    }

    @Override
    public int grantedActions() {
        return granted.size();
    }

    @Override
    public Set<String> services() {
        Set<String> services = new TreeSet<>();
        own.stream()
                .flatMap(each -> each.definition().stream())
                .flatMap(role -> role.parts().stream())
                .flatMap(part -> Stream.concat(part.actions().stream(), part.dataActions().stream()))
                .forEach(action -> services.add(service(action)));
        return services.contains("*") ? Set.of("*") : services;
    }

    private static String service(String action) {
        return action.startsWith("*") || !action.contains("/") ? "*" : action.substring(0, action.indexOf('/'));
    }

    private List<String> excess() {
        Set<String> wanted = needed.stream()
                .map(each -> each.action().toLowerCase(Locale.ROOT))
                .collect(Collectors.toSet());
        return granted.stream()
                .filter(action -> !wanted.contains(action.toLowerCase(Locale.ROOT)))
                .toList();
    }

    @Override
    public int excessActions() {
        return excess().size();
    }

    @Override
    public Set<String> excessServices() {
        Set<String> wanted = needed.stream().map(each -> service(each.action())).collect(Collectors.toSet());
        return excess().stream()
                .map(RoleTrim::service)
                .filter(service -> !wanted.contains(service))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    @Override
    public List<Worst> worst() {
        List<String> excess = excess();
        return DANGERS.entrySet().stream()
                .filter(danger -> excess.contains(danger.getKey()))
                .map(danger -> new Worst(danger.getKey(), where(danger.getKey()), danger.getValue()))
                .limit(MOST_WORST)
                .toList();
    }

    private String where(String action) {
        return own.stream()
                .filter(each -> each.definition()
                        .filter(role -> role.grants(action, ActionPattern.isData(action)))
                        .isPresent())
                .map(Assignment::scope)
                .findFirst()
                .orElse("*");
    }

    @Override
    public boolean isUnsurveyed() {
        return false;
    }

    @Override
    public List<String> today() {
        List<String> lines = new ArrayList<>();
        for (Assignment assignment : own) {
            lines.add(assignment.roleName());
            lines.add(" at " + shortened(assignment.scope()));
        }
        if (lines.isEmpty()) {
            lines.add(openRoles.isEmpty() ? "nothing" : "not known: its roles were not read");
        }
        return lines;
    }

    /** The subscription is the same everywhere. */
    private static String shortened(String scope) {
        return scope.replaceFirst("(?i)^/subscriptions/[^/]+/", "");
    }

    @Override
    public List<String> proposed() {
        List<String> lines = new ArrayList<>();
        for (RoleProposal.Given given : roles.given()) {
            lines.add(String.join(", ", given.actions()));
            given.scopes().forEach(scope -> lines.add(" at " + shortened(scope)));
        }
        return lines;
    }

    @Override
    public int proposedActions() {
        return roles.given().stream().mapToInt(given -> given.actions().size()).sum();
    }

    @Override
    public int proposedServices() {
        return (int) roles.given().stream()
                .flatMap(given -> given.actions().stream())
                .map(RoleTrim::service)
                .distinct()
                .count();
    }

    @Override
    public JsonPart proposal() {
        return JsonReader.read(roles.spelled()).root().orElseThrow();
    }

    @Override
    public String proposalSpelled() {
        return JsonSpelling.of(proposal()) + "\n";
    }

    @Override
    public Optional<Trust> proposedTrust() {
        return Optional.empty();
    }

    @Override
    public boolean coversNeeded() {
        return proof.coversNeeded();
    }

    @Override
    public boolean withinNeeded() {
        return proof.withinNeeded();
    }

    @Override
    public List<Needed> stillRefused() {
        return proof.stillRefused();
    }

    /** Returns the actions that the program knows of. */
    static List<String> known() {
        return KNOWN;
    }
}
