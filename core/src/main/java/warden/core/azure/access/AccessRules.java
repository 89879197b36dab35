package warden.core.azure.access;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import warden.core.access.Decision;
import warden.core.access.Truth;
import warden.core.azure.account.Container;
import warden.core.azure.account.Item;
import warden.core.azure.account.Listed;
import warden.core.azure.account.Network;
import warden.core.azure.account.ResourceId;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.account.Subscription;
import warden.core.azure.account.WebHosting;
import warden.core.azure.role.ActionPattern;
import warden.core.azure.role.Assignment;
import warden.core.azure.role.AssignmentCondition;
import warden.core.azure.role.DenyAssignment;
import warden.core.azure.role.Roles;
import warden.core.survey.Need;
import warden.core.survey.Reading;

/**
 * The rules of access in one subscription. Safe for use by several threads.
 *
 * <p>Source: Azure role-based access control, "What is Azure RBAC", "Understand Azure deny assignments"; Storage documentation, "Prevent Shared Key
 * authorization for an Azure Storage account", "Configure anonymous read access for containers and blobs", "Static website hosting in Azure
 * Storage", "Configure Azure Storage firewalls and virtual networks"; Resource Manager, "Lock your resources to protect your infrastructure".
 */
public final class AccessRules {
    static final String NO_SIGNED_URL =
            "no signed URL (SAS) or account key is in strangers' hands; the account cannot list" + " signed URLs";
    private static final String NO_DENY = "no deny assignment";
    private static final String NO_LOCK = "no lock that was not read refuses it";
    private static final String JUST_IN_TIME = "no eligible (just-in-time) assignment is active";

    private static final int MOST_CONTROLS = 10_000;

    /**
     * What somebody may do with a storage account by actions of control.
     *
     * @param weighed what it rests on; nothing is added to it any more
     */
    private record Control(Truth may, Weighed weighed) {}

    private final Subscription subscription;
    private final Roles roles;
    /** It is asked again with every request for one of the account's blobs, and hangs on none of them. */
    private final Map<String, Control> controls = new ConcurrentHashMap<>();

    public AccessRules(Subscription subscription) {
        this.subscription = subscription;
        // Whether its lists are whole hangs on what the survey's reader may see, and that on the roles in the lists.
        Roles seen = new Roles(subscription);
        subscription.knowReader(
                permission -> seen.mayReadAll(subscription.survey().header().takenBy(), permission));
        this.roles = seen.withReaderKnown();
    }

    public Subscription subscription() {
        return subscription;
    }

    public Roles roles() {
        return roles;
    }

    /**
     * Decides one request.
     *
     * @param who as questions spell it
     */
    public Decision decide(Caller who, String action, String resource, RequestContext context, boolean explains) {
        boolean isData = context.ofData().orElseGet(() -> ActionPattern.isData(action));
        Weighed weighed = new Weighed();
        Truth truth =
                switch (who.kind()) {
                    case ANYONE -> anonymous(action, resource, context, weighed);
                    case ANY_ACCOUNT -> {
                        weighed.says("A principal of a directory that nothing names holds no role here.");
                        yield Truth.FALSE;
                    }
                    case KEY -> byKey(who, action, isData, resource, context, weighed);
                    case PRINCIPAL -> named(who.objectId(), action, isData, resource, context, weighed);
                };
        return weighed.decided(truth, !weighed.because.isEmpty(), explains);
    }

    /**
     * Returns whether a principal's roles and what it can reach by them grant an action, wherever it asks from.
     *
     * @param open takes what would settle an answer that is not known
     */
    public Truth byRoles(String objectId, String action, String resource, List<Need> open) {
        Weighed unheard = new Weighed();
        boolean isData = ActionPattern.isData(action);
        Truth granted = granted(objectId, action, isData, resource, RequestContext.PLAIN, unheard);
        Truth all = isData && granted != Truth.TRUE
                ? granted.or(beyondDataActions(objectId, resource, subscription.account(resource), unheard))
                : granted;
        if (all == Truth.UNKNOWN) {
            open.addAll(unheard.needs);
        }
        return all;
    }

    // --- by role ---

    private Truth named(
            String objectId, String action, boolean isData, String resource, RequestContext context, Weighed weighed) {
        Truth granted = granted(objectId, action, isData, resource, context, weighed);
        if (isData) {
            Optional<StorageAccount> account = subscription.account(resource);
            if (granted != Truth.TRUE) {
                granted = granted.or(beyondDataActions(objectId, resource, account, weighed));
            }
            if (granted == Truth.FALSE && account.isPresent()) {
                granted = beyondRoles(account.get(), weighed);
            }
            if (granted.isPossible()) {
                granted = granted.and(reachable(account, context, false, weighed));
            }
        } else if (granted.isPossible()) {
            granted = granted.and(unlocked(action, resource, weighed));
        }
        return granted;
    }

    /** What roles and deny assignments come to, network and keys left aside. */
    private Truth granted(
            String objectId, String action, boolean isData, String resource, RequestContext context, Weighed weighed) {
        Truth granted = Truth.FALSE;
        for (Roles.Own own : roles.of(objectId, resource)) {
            Assignment assignment = own.assignment();
            Truth means = own.means();
            Truth gives = gives(assignment, action, isData, resource, context, weighed);
            Truth here = means.and(gives);
            if (here == Truth.TRUE) {
                weighed.because(Optional.of(assignment.at()));
                assignment.definition().ifPresent(role -> weighed.because(role.at()));
                weighed.says(
                        "The role " + assignment.roleName() + ", assigned at " + assignment.scope() + ", grants it.");
            } else if (here == Truth.UNKNOWN && means == Truth.UNKNOWN) {
                roles.groups(objectId).missing().ifPresent(weighed::need);
                weighed.step("Whether the caller is in the group " + assignment.principalId() + ", which has the role "
                        + assignment.roleName() + ", is not known.");
            }
            granted = granted.or(here);
        }
        if (granted == Truth.FALSE && roles.openAssignments().isPresent()) {
            weighed.need(roles.openAssignments().get());
            weighed.says("No role that was read grants it; the assignments are not known as a whole.");
            granted = Truth.UNKNOWN;
        }
        if (granted == Truth.FALSE) {
            weighed.assume(JUST_IN_TIME);
            weighed.says("No role that is assigned grants it.");
            return granted;
        }
        List<DenyAssignment> denying = new ArrayList<>();
        Truth denied = roles.denies(objectId, action, isData, resource, denying);
        if (denied == Truth.TRUE) {
            weighed.because.clear();
            denying.forEach(deny -> weighed.because(Optional.of(deny.at())));
            weighed.says("A deny assignment takes it away.");
            return Truth.FALSE;
        }
        if (denied == Truth.UNKNOWN) {
            roles.openDenies().ifPresent(weighed::need);
            if (!denying.isEmpty()) {
                roles.groups(objectId).missing().ifPresent(weighed::need);
            }
            if (weighed.needs.isEmpty()) {
                weighed.need(new Need(
                        "deny-assignment-list",
                        subscription.id(),
                        "whether a deny assignment means the caller is not known",
                        "Microsoft.Authorization/denyAssignments/read"));
            }
            weighed.says("Whether a deny assignment takes it away is not known.");
            return Truth.UNKNOWN;
        }
        if (!roles.asksDenies()) {
            weighed.assume(NO_DENY);
        }
        if (granted == Truth.UNKNOWN && weighed.needs.isEmpty()) {
            weighed.need(new Need("role-assignment-list", subscription.id(), "it hangs on what is not settled", ""));
        }
        if (granted == Truth.UNKNOWN) {
            weighed.says("Whether a role grants it is not known.");
        }
        return granted;
    }

    private Truth gives(
            Assignment assignment,
            String action,
            boolean isData,
            String resource,
            RequestContext context,
            Weighed weighed) {
        if (assignment.definition().isEmpty()) {
            assignment.unread().ifPresent(weighed::need);
            weighed.step("What the role " + assignment.roleName() + " grants was not read.");
            return Truth.UNKNOWN;
        }
        if (!assignment.definition().get().grants(action, isData)) {
            return Truth.FALSE;
        }
        if (assignment.condition().isEmpty()) {
            return Truth.TRUE;
        }
        AssignmentCondition condition = assignment.condition().get();
        Truth lets = condition.lets(
                action,
                context.isListing(),
                ResourceId.containerIn(resource).map(ResourceId::name).orElse(""),
                ResourceId.blobIn(resource));
        if (lets == Truth.UNKNOWN) {
            weighed.need(new Need(
                    "role-assignment-list",
                    assignment.id(),
                    condition.isUnderstood()
                            ? "its condition limits it to some paths"
                            : "its condition is not understood",
                    ""));
            weighed.step("The condition of the role " + assignment.roleName() + " leaves it open.");
        }
        return lets;
    }

    /** Who may fetch the account's key, have a URL signed by it, or make a local user, has every right on every blob. */
    private Truth beyondDataActions(
            String objectId, String resource, Optional<StorageAccount> account, Weighed weighed) {
        Truth byKey = throughKeys(objectId, resource, account, weighed);
        Truth admits = account.map(StorageAccount::admitsLocalUsers).orElse(Truth.UNKNOWN);
        if (byKey == Truth.TRUE || !admits.isPossible()) {
            return byKey;
        }
        Truth makes = mayAny(Actions.LOCAL_USERS, objectId, resource, "work as a local user over SFTP", weighed);
        if (makes.isPossible() && admits == Truth.UNKNOWN) {
            weighed.need(unread(account, resource, "whether it admits local users is not known"));
        }
        return byKey.or(makes.and(admits));
    }

    private Truth throughKeys(String objectId, String resource, Optional<StorageAccount> account, Weighed weighed) {
        Truth any = mayAny(Actions.KEYS, objectId, resource, "work with the account's key", weighed);
        if (!any.isPossible()) {
            return Truth.FALSE;
        }
        Truth accepted = account.map(StorageAccount::acceptsSharedKeys).orElse(Truth.UNKNOWN);
        if (accepted == Truth.FALSE) {
            weighed.because(account.flatMap(each -> each.cite("allowSharedKeyAccess")));
            weighed.says("The account refuses its keys, so that holding them gives nothing.");
        } else if (accepted == Truth.UNKNOWN) {
            weighed.need(unread(account, resource, "whether the account accepts its keys is not known"));
        }
        return any.and(accepted);
    }

    /** Returns whether one of these actions of control on the account is granted. */
    private Truth mayAny(List<String> actions, String objectId, String resource, String purpose, Weighed weighed) {
        Optional<String> id = ResourceId.accountIn(resource);
        if (id.isEmpty()) {
            return Truth.FALSE;
        }
        String key = objectId + " " + ResourceId.key(id.get()) + " " + purpose;
        Control known = controls.get(key);
        if (known == null) {
            known = control(actions, objectId, id.get(), purpose);
            if (controls.size() < MOST_CONTROLS) {
                controls.put(key, known);
            }
        }
        weighed.add(known.weighed());
        return known.may();
    }

    private Control control(List<String> actions, String objectId, String account, String purpose) {
        Weighed weighed = new Weighed();
        Truth any = Truth.FALSE;
        for (String action : actions) {
            Weighed inner = new Weighed();
            Truth may = granted(objectId, action, false, account, RequestContext.PLAIN, inner)
                    .and(unlocked(action, account, inner));
            if (may == Truth.TRUE) {
                inner.because.forEach(at -> weighed.because(Optional.of(at)));
                inner.assumes.forEach(weighed::assume);
                weighed.says("The caller may use " + action + ", and so " + purpose + ".");
                return new Control(Truth.TRUE, weighed);
            }
            if (may == Truth.UNKNOWN) {
                inner.needs.forEach(weighed::need);
            }
            any = any.or(may);
        }
        return new Control(any, weighed);
    }

    private static Need unread(Optional<StorageAccount> account, String resource, String why) {
        return account.map(each -> each.need(why))
                .orElse(new Need(
                        "storage-account",
                        ResourceId.accountIn(resource).orElse(resource),
                        "never asked",
                        "Microsoft.Storage/storageAccounts/read"));
    }

    /** What may add to roles and is not read: the access lists of hierarchical names, and an account that was not read at all. */
    private Truth beyondRoles(StorageAccount account, Weighed weighed) {
        if (account.settings().isUnread()) {
            weighed.need(account.need("the account was not read"));
            weighed.says("No role grants it; the account was not read, so that more may be open.");
            return Truth.UNKNOWN;
        }
        if (account.isHierarchical() == Truth.TRUE) {
            weighed.need(new Need(
                    "storage-account", account.id(), "the access lists of its folders and files are not read", ""));
            weighed.says("No role grants it; access lists of its folders and files may.");
            return Truth.UNKNOWN;
        }
        return Truth.FALSE;
    }

    // --- locks ---

    /** Returns whether locks let an action of control through. A key that somebody holds already is stopped by none. */
    private Truth unlocked(String action, String resource, Weighed weighed) {
        String lower = action.toLowerCase(Locale.ROOT);
        boolean deletes = lower.endsWith("/delete");
        boolean reads = lower.endsWith("/read");
        boolean isLockOrRole = lower.startsWith("microsoft.authorization/");
        if (reads || isLockOrRole) {
            return Truth.TRUE;
        }
        Listed locks = subscription.list("lock-list", subscription.id(), "");
        for (Item lock : locks.items()) {
            String level = lock.text("level").orElse("");
            String scope = lock.id().replaceFirst("(?i)/providers/Microsoft\\.Authorization/locks/[^/]*$", "");
            boolean stops = level.equalsIgnoreCase("ReadOnly") || (level.equalsIgnoreCase("CanNotDelete") && deletes);
            if (stops && ResourceId.covers(scope, resource)) {
                weighed.because(Optional.of(lock.at()));
                weighed.says("A lock at " + scope + " (" + level + ") refuses it.");
                return Truth.FALSE;
            }
        }
        if (!locks.isWhole()) {
            weighed.assume(NO_LOCK);
        }
        return Truth.TRUE;
    }

    // --- by key ---

    private Truth byKey(
            Caller who, String action, boolean isData, String resource, RequestContext context, Weighed weighed) {
        boolean own = ResourceId.accountIn(resource)
                .filter(account -> ResourceId.same(account, who.account()))
                .isPresent();
        if (!isData || !own) {
            weighed.says("An account key is good for the blobs of its own account only.");
            return Truth.FALSE;
        }
        Optional<StorageAccount> account = subscription.account(resource);
        Truth accepted = account.map(StorageAccount::acceptsSharedKeys).orElse(Truth.UNKNOWN);
        if (accepted == Truth.UNKNOWN) {
            weighed.need(unread(account, resource, "whether the account accepts its keys is not known"));
            weighed.says("Whether the account accepts its keys is not known.");
        } else {
            weighed.because(account.flatMap(each -> each.cite("allowSharedKeyAccess")));
            weighed.says(
                    accepted == Truth.TRUE
                            ? "The account accepts its keys, which are good for every blob."
                            : "The account refuses its keys.");
        }
        return accepted.isPossible() ? accepted.and(reachable(account, context, false, weighed)) : accepted;
    }

    // --- network ---

    /**
     * Returns whether a caller gets through to the account.
     *
     * @param isStranger true for anyone: where only some get through, nothing is known of them; of a principal the rules are taken as met
     */
    private Truth reachable(
            Optional<StorageAccount> account, RequestContext context, boolean isStranger, Weighed weighed) {
        if (account.isEmpty()) {
            weighed.need(new Need(
                    "storage-account",
                    subscription.id(),
                    "the account was not read",
                    "Microsoft.Storage/storageAccounts/read"));
            return Truth.UNKNOWN;
        }
        StorageAccount known = account.get();
        Truth refusesPlain = context.secure() ? Truth.FALSE : known.refusesPlainHttp();
        if (refusesPlain == Truth.TRUE) {
            weighed.because(known.cite("supportsHttpsTrafficOnly"));
            weighed.says("The account refuses plain HTTP.");
            return Truth.FALSE;
        }
        if (refusesPlain == Truth.UNKNOWN) {
            weighed.need(known.need("whether it refuses plain HTTP is not in the answer"));
        }
        Network network = known.network();
        Truth admits;
        if (context.sourceIp().isPresent()) {
            admits = network.admits(context.sourceIp().get());
        } else if (network.reach() == Network.Reach.SOME
                && !isStranger
                && !network.ranges().isEmpty()) {
            weighed.assume("the caller's address is one that the network rules admit");
            admits = Truth.TRUE;
        } else if (network.reach() == Network.Reach.SOME) {
            admits = Truth.UNKNOWN;
        } else {
            admits = network.admitsSomebody();
        }
        if (admits == Truth.FALSE) {
            weighed.because(known.cite(
                    network.reach() == Network.Reach.CLOSED
                                    && known.settings()
                                            .found()
                                            .flatMap(item -> item.text("publicNetworkAccess"))
                                            .filter("Disabled"::equals)
                                            .isPresent()
                            ? new String[] {"publicNetworkAccess"}
                            : new String[] {"networkAcls", "defaultAction"}));
            weighed.says("The account's network rules refuse the caller.");
        } else if (admits == Truth.UNKNOWN) {
            weighed.need(
                    network.reach() == Network.Reach.UNKNOWN
                            ? known.need("its network rules were not read, or are not modelled")
                            : new Need(
                                    "storage-account",
                                    known.id(),
                                    "whether its network admits the caller is not known",
                                    ""));
            weighed.says("Whether the account's network rules admit the caller is not known.");
        }
        return admits.and(refusesPlain.not());
    }

    // --- anonymous ---

    private Truth anonymous(String action, String resource, RequestContext context, Weighed weighed) {
        weighed.assume(NO_SIGNED_URL);
        Optional<StorageAccount> account = subscription.account(resource);
        Optional<String> name = ResourceId.containerIn(resource).map(ResourceId::name);
        boolean reads = action.equalsIgnoreCase(Actions.READ) || action.equalsIgnoreCase("list");
        if (!reads || name.isEmpty()) {
            weighed.says("Nobody can be let do this without a key, a signed URL or a role.");
            return Truth.FALSE;
        }
        if (account.isEmpty()) {
            weighed.need(unread(account, resource, "never asked"));
            weighed.says("The account was not read.");
            return Truth.UNKNOWN;
        }
        boolean isListing = context.isListing() || ResourceId.blobIn(resource).isEmpty();
        Container container = account.get().container(name.get());
        Truth open = Truth.FALSE;
        if (!context.endpoint().equals(Optional.of("web"))) {
            open = atBlobEndpoint(container, isListing, weighed);
        }
        if (!context.endpoint().equals(Optional.of("blob")) && container.isWeb() && !isListing && open != Truth.TRUE) {
            open = open.or(atWebEndpoint(container, weighed));
        }
        return open.isPossible() ? open.and(reachable(account, context, true, weighed)) : open;
    }

    private static Truth atBlobEndpoint(Container container, boolean isListing, Weighed weighed) {
        Truth byAccount = container.account().allowsAnonymous();
        Truth byLevel = isListing ? container.isListable() : container.isOpen();
        Truth open = byAccount.and(byLevel);
        if (open == Truth.TRUE) {
            weighed.because(container.citeLevel());
            weighed.because(container.account().cite("allowBlobPublicAccess"));
            weighed.says(
                    isListing
                            ? "The container's level lets anyone list it, and the account allows that."
                            : "The container's level lets anyone read its blobs, and the account allows that.");
        } else if (open == Truth.FALSE) {
            if (byLevel == Truth.FALSE) {
                weighed.because(container.citeLevel());
            } else {
                weighed.because(container.account().cite("allowBlobPublicAccess"));
            }
            weighed.says(
                    byLevel == Truth.FALSE
                            ? "The container's level lets nobody do this anonymously."
                            : "The account lets no container be open.");
        } else {
            if (byAccount == Truth.UNKNOWN) {
                weighed.need(container.account().need("whether it allows open containers is not in the answer"));
            }
            if (byLevel == Truth.UNKNOWN) {
                weighed.need(container.need());
            }
            weighed.says("Whether the container is open is not known.");
        }
        return open;
    }

    private static Truth atWebEndpoint(Container container, Weighed weighed) {
        Reading<WebHosting> hosting = container.account().hosting();
        Truth enabled =
                hosting.found().map(WebHosting::enabled).orElse(hosting.isAbsent() ? Truth.FALSE : Truth.UNKNOWN);
        if (enabled == Truth.TRUE) {
            weighed.because.clear();
            weighed.because(hosting.citation());
            weighed.says("The account's website serves the container to anyone, whatever its level is.");
        } else if (enabled == Truth.UNKNOWN) {
            weighed.need(hosting.missing()
                    .orElse(new Need(
                            "static-website",
                            ResourceId.blobService(container.account().id()),
                            "whether the website is on is not in the answer",
                            "Microsoft.Storage/storageAccounts/blobServices/read")));
            weighed.says("Whether the account's website is on is not known.");
        }
        return enabled;
    }

    /** Returns how the network limits strangers, in words; absent where it does not, or lets nobody in. */
    Optional<String> strangersFrom(Container container) {
        Network network = container.account().network();
        return network.reach() == Network.Reach.SOME && !network.ranges().isEmpty()
                ? Optional.of("from " + network.ranges().stream().sorted().collect(Collectors.joining(", ")))
                : Optional.empty();
    }

    /** Returns an address that the network of an account admits; absent where any does, or none is told. */
    Optional<String> admittedAddress(Container container) {
        return container.account().network().ranges().stream()
                .sorted()
                .map(range -> range.contains("/") ? range.substring(0, range.indexOf('/')) : range)
                .findFirst();
    }
}
