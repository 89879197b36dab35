package warden.core.azure.account;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ForkJoinTask;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import warden.core.document.JsonPart;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;
import warden.core.survey.SurveyedAccount;

/** One subscription, as one survey shows it. Safe for use by several threads. */
public final class Subscription implements SurveyedAccount {
    /** What every audit asks for, the longest first. */
    private static final List<String> LISTS = List.of(
            "role-assignment-list",
            "role-definition-list",
            "storage-account-list",
            "cdn-profile-list",
            "front-door-endpoint-list",
            "front-door-route-list",
            "front-door-custom-domain-list",
            "front-door-secret-list",
            "front-door-security-policy-list",
            "front-door-origin-list",
            "front-door-rule-list",
            "cdn-endpoint-list",
            "cdn-custom-domain-list",
            "dns-zone-list",
            "managed-identity-list",
            "federated-credential-list",
            "container-list");

    private final Survey survey;
    private final String id;
    private final Map<String, Map<String, String>> subjects = new ConcurrentHashMap<>();
    private final Map<String, Listed> lists = new ConcurrentHashMap<>();
    private final Map<String, Pages> pages = new ConcurrentHashMap<>();
    private volatile Predicate<String> mayReadAll = permission -> false;
    private @Nullable List<StorageAccount> accounts;
    private @Nullable Map<String, StorageAccount> accountsByKey;

    public Subscription(Survey survey) {
        this.survey = survey;
        this.id = ResourceId.subscription(survey.header().account());
    }

    @Override
    public String number() {
        return survey.header().account();
    }

    @Override
    public Survey survey() {
        return survey;
    }

    /** Returns its identifier, {@code /subscriptions/GUID}. */
    public String id() {
        return id;
    }

    /** Returns the directory's GUID: from the subscription, or else absent. */
    public Optional<String> tenant() {
        return reading("subscription", id).found().flatMap(found -> found.text("tenantId"));
    }

    /**
     * Lets it know what the survey's own principal may read in the whole subscription: a list that its reader could see in part only looks the
     * same as a whole one.
     *
     * @param mayReadAll tells for an action whether it surely may
     */
    public void knowReader(Predicate<String> mayReadAll) {
        this.mayReadAll = mayReadAll;
        lists.clear();
    }

    /** Returns how the survey spells a subject; what it has no line for as it is given. */
    public String spelled(String aspect, String of) {
        return subjects.computeIfAbsent(aspect, key -> {
                    Map<String, String> byKey = new HashMap<>();
                    survey.subjects(key).forEach(subject -> byKey.put(ResourceId.key(subject), subject));
                    return byKey;
                })
                .getOrDefault(ResourceId.key(of), of);
    }

    /** True when the survey has a line for this, whatever it says. */
    public boolean asked(String aspect, String of) {
        return survey.asked(aspect, spelled(aspect, of));
    }

    /** Returns the answer to one question. */
    public Reading<JsonPart> reading(String aspect, String of) {
        return survey.reading(aspect, spelled(aspect, of));
    }

    /** Returns one resource that has a line of its own. */
    public Reading<Item> one(String aspect, String of) {
        String subject = spelled(aspect, of);
        return survey.reading(aspect, subject)
                .fold(
                        found -> new Reading.Found<>(
                                new Item(found.value().text("id").orElse(subject), found.value(), found.at()),
                                found.at()),
                        absent -> new Reading.Absent<>(absent.code(), absent.at()),
                        unread -> new Reading.Unread<>(unread.need()));
    }

    /**
     * Returns a list of resources. Lines about one of them go before the list's own word; a list of the whole subscription is whole only where the
     * survey's reader may see all of it.
     *
     * @param single the aspect of one of the resources; empty when it has none
     */
    public Listed list(String aspect, String of, String single) {
        return lists.computeIfAbsent(aspect + " " + ResourceId.key(of), key -> read(aspect, of, single));
    }

    /**
     * What the answers to one listing hold, whoever may see it.
     *
     * @param areUnderstood whether each page is a list of what has a name
     */
    private record Pages(Reading<Survey.Listing> listing, Map<String, Item> items, boolean areUnderstood) {}

    private Pages pages(String aspect, String subject) {
        return pages.computeIfAbsent(aspect + " " + subject, key -> {
            Reading<Survey.Listing> listing = survey.listing(aspect, subject);
            Map<String, Item> items = new LinkedHashMap<>();
            boolean understood = true;
            for (Reading.Found<JsonPart> page :
                    listing.found().map(Survey.Listing::pages).orElse(List.of())) {
                understood &= Page.isWhole(page.value(), "id", "name");
                elements(page).forEach(item -> items.putIfAbsent(ResourceId.key(item.id()), item));
            }
            return new Pages(listing, items, understood);
        });
    }

    /**
     * Parses side by side the lists that every audit asks for, and remembers them; the rest is parsed when it is asked for. Only for who works
     * alone: a thread that waits here may be given other work, which must not wait for what this one holds.
     */
    public void readAhead() {
        List<ForkJoinTask<?>> parsings = new ArrayList<>();
        for (String aspect : LISTS) {
            for (String subject : survey.subjects(aspect)) {
                parsings.add(ForkJoinTask.adapt(() -> pages(aspect, subject)));
            }
        }
        // Each for itself: of a stream of them one thread would get all that are long.
        ForkJoinTask.invokeAll(parsings);
    }

    private Listed read(String aspect, String of, String single) {
        String subject = spelled(aspect, of);
        Pages pages = pages(aspect, subject);
        Reading<Survey.Listing> listing = pages.listing();
        Map<String, Item> items = new LinkedHashMap<>(pages.items());
        Optional<Need> open = listing.missing();
        if (listing.found().isPresent()) {
            String permission = survey.aspects().permission(aspect);
            if (!listing.found().get().complete()) {
                open = Optional.of(Need.cutShort(aspect, subject, permission));
            } else if (!pages.areUnderstood()) {
                open = Optional.of(
                        new Need(aspect, subject, "the answer is no list of what has an identifier", permission));
            } else if (isOfSubscription(of) && !mayReadAll.test(permission)) {
                open = Optional.of(
                        new Need(aspect, subject, "that the survey's reader sees all of it is not shown", permission));
            }
        }
        Optional<Need> withSingles = open;
        if (!single.isEmpty()) {
            for (String one : survey.subjects(single)) {
                if (!isBelow(of, one)) {
                    continue;
                }
                Reading<Item> reading = one(single, one);
                reading.found().ifPresent(item -> items.put(ResourceId.key(one), item));
                if (reading.isAbsent()) {
                    items.remove(ResourceId.key(one));
                } else if (reading.isUnread()) {
                    items.remove(ResourceId.key(one));
                    withSingles = withSingles.or(reading::missing);
                }
            }
        }
        return new Listed(List.copyOf(items.values()), withSingles, listing.citation());
    }

    private boolean isBelow(String of, String one) {
        return !of.startsWith("/") || ResourceId.covers(of.replace("?atScope()", ""), one);
    }

    private boolean isOfSubscription(String of) {
        return ResourceId.key(of.replace("?atScope()", "")).equals(ResourceId.key(id));
    }

    private static Optional<String> name(JsonPart element) {
        return element.text("id").or(() -> element.text("name"));
    }

    private static List<Item> elements(Reading.Found<JsonPart> page) {
        List<Item> items = new ArrayList<>();
        for (JsonPart element : Page.elements(page.value()).orElse(List.of())) {
            Citation at = page.at().at(element);
            name(element).ifPresent(name -> items.add(new Item(name, element, at)));
        }
        return items;
    }

    /** Returns the storage accounts that the survey knows, in the order of the list. */
    public synchronized List<StorageAccount> accounts() {
        if (accounts == null) {
            Map<String, StorageAccount> all = new LinkedHashMap<>();
            list("storage-account-list", id, "storage-account")
                    .items()
                    .forEach(item -> all.put(
                            ResourceId.key(item.id()),
                            new StorageAccount(this, item.id(), new Reading.Found<>(item, item.at()))));
            for (String aspect : List.of("storage-account", "blob-service", "container-list", "container-blobs")) {
                for (String subject : survey.subjects(aspect)) {
                    ResourceId.accountIn(subject)
                            .ifPresent(account -> all.computeIfAbsent(
                                    ResourceId.key(account),
                                    key -> new StorageAccount(this, account, one("storage-account", account))));
                }
            }
            all.values().removeIf(account -> account.settings().isAbsent());
            accounts = List.copyOf(all.values());
            accountsByKey = all;
        }
        return accounts;
    }

    /** Returns the storage account that an identifier lies in, or is; absent when the survey does not know it. */
    public Optional<StorageAccount> account(String of) {
        accounts();
        return ResourceId.accountIn(of).flatMap(account -> Optional.ofNullable(byKey().get(ResourceId.key(account))));
    }

    private synchronized Map<String, StorageAccount> byKey() {
        return accountsByKey == null ? Map.of() : accountsByKey;
    }

    /** Returns what keeps the storage accounts from being known as a whole; absent when they are. */
    public Optional<Need> unlistedAccounts() {
        return list("storage-account-list", id, "storage-account").open();
    }
}
