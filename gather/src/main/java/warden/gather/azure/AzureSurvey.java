package warden.gather.azure;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.Consumer;
import java.util.stream.Stream;
import warden.core.azure.account.ResourceId;
import warden.core.azure.survey.AzureAspects;
import warden.core.azure.survey.AzureCalls;
import warden.core.azure.survey.AzureCalls.Interface;
import warden.core.azure.survey.AzureCalls.Request;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.gather.live.LiveException;
import warden.gather.live.ReadingLog;

/**
 * Takes a survey of a live subscription by read-only calls. A refused call becomes an unread reading and the rest goes on. Each part of the
 * work may find more to ask, until nothing is left. Nothing is changed, no key is fetched and no blob is read.
 */
public final class AzureSurvey implements AutoCloseable {
    private static final int NAMES_A_PAGE = 5_000;
    private static final String STORAGE = "/storageAccounts/";

    private final AzureSettings settings;
    private final AzureClient client;
    private final ReadingLog log;
    private final ExecutorService threads;
    private final List<Future<?>> work = new ArrayList<>();
    private final Set<String> asked = ConcurrentHashMap.newKeySet();
    /** What the records of the one host that is followed, and its edges, lead to, as documents in lower case. */
    private final Set<String> leads = ConcurrentHashMap.newKeySet();
    /** What the origins of profiles of several edges lead to, by profile; and the profiles that have the host. */
    private final Map<String, Set<String>> leadsByProfile = new ConcurrentHashMap<>();

    private final Set<String> profilesOfHost = ConcurrentHashMap.newKeySet();

    private String subscription = "";

    /** Makes ready; what cannot be made ready is said by {@link #begin}. */
    public AzureSurvey(AzureSettings settings, ReadingLog log) {
        this.settings = settings;
        this.client = new AzureClient(settings);
        this.log = log;
        this.threads = Executors.newFixedThreadPool(2 * settings.parallel(), AzureSurvey::daemon);
    }

    private static Thread daemon(Runnable work) {
        Thread thread = new Thread(work, "survey");
        thread.setDaemon(true);
        return thread;
    }

    @Override
    public void close() {
        threads.shutdownNow();
        client.close();
    }

    /**
     * Signs in and finds the subscription.
     *
     * @throws LiveException with one sentence that says why not, and what to do
     */
    public SurveyHeader begin(String file, String takenAt) throws LiveException {
        AzureClient.Asker asker = client.signIn();
        String guid =
                settings.subscription().isPresent() ? settings.subscription().get() : onlySubscription();
        subscription = ResourceId.subscription(guid.toLowerCase(Locale.ROOT));
        return new SurveyHeader(
                file,
                AzureAspects.PROVIDER,
                guid.toLowerCase(Locale.ROOT),
                takenAt,
                asker.takenBy(),
                settings.host().map(host -> host.toLowerCase(Locale.ROOT)).stream()
                        .toList(),
                asker.tenant(),
                false);
    }

    private String onlySubscription() throws LiveException {
        AzureClient.Answer answer = client.get(
                Interface.MANAGEMENT, client.address(Interface.MANAGEMENT) + "/subscriptions?api-version=2022-12-01");
        if (answer.status() == 0) {
            throw new LiveException("the management API cannot be reached (" + answer.body()
                    + "); check the network, the proxy variables and --endpoint");
        }
        List<String> guids = answer.isFound()
                ? JsonReader.read(answer.body()).root().stream()
                        .flatMap(page -> page.list("value").stream())
                        .flatMap(item -> item.text("subscriptionId").stream())
                        .toList()
                : List.of();
        if (guids.size() == 1) {
            return guids.get(0);
        }
        throw new LiveException(
                guids.isEmpty()
                        ? "the credential sees no subscription"
                                + (answer.code().isEmpty() ? "" : " (" + answer.code() + ")")
                                + "; name one with --subscription, or assign the role of \"survey --permissions\""
                        : "the credential sees " + guids.size() + " subscriptions (" + String.join(", ", guids)
                                + "); name one with --subscription");
    }

    /** Asks everything and returns when all has been answered. */
    public void run() throws IOException {
        ask("subscription", subscription);
        Stream.of(
                        "role-definition-list",
                        "deny-assignment-list",
                        "lock-list",
                        "delegated-management-list",
                        "static-site-list")
                .forEach(aspect -> ask(aspect, subscription));
        each("role-assignment-list", subscription, this::assigned);
        each("role-assignment-list", subscription + "?atScope()", this::assigned);
        each("managed-identity-list", subscription, identity -> identity.text("id")
                .ifPresent(id -> ask("federated-credential-list", id)));
        each("cdn-profile-list", subscription, this::edges);
        each("dns-zone-list", subscription, zone -> zone.text("id")
                .filter(id -> concerns(zone.text("name").orElse("")))
                .ifPresent(id -> each("dns-records", id, record -> note(record))));
        if (settings.host().isPresent()) {
            // Which accounts concern a host is known once its records and edges are.
            await();
        }
        each("storage-account-list", subscription, this::account);
        await();
    }

    private boolean concerns(String zone) {
        return settings.host()
                .map(host -> host.toLowerCase(Locale.ROOT))
                .map(host -> host.equals(zone.toLowerCase(Locale.ROOT))
                        || host.endsWith("." + zone.toLowerCase(Locale.ROOT)))
                .orElse(true);
    }

    private static String lower(JsonPart part) {
        return AzureAnswers.spelled(part).toLowerCase(Locale.ROOT);
    }

    /** Keeps what the host's own record, or an edge that has the host, leads to. */
    private void note(JsonPart part) {
        settings.host()
                .map(host -> host.toLowerCase(Locale.ROOT))
                .filter(host -> lower(part).contains(host))
                .ifPresent(host -> leads.add(lower(part)));
    }

    private boolean leadsTo(String account) {
        String start = account.toLowerCase(Locale.ROOT) + ".";
        return Stream.concat(
                        leads.stream(),
                        profilesOfHost.stream()
                                .flatMap(profile -> leadsByProfile.getOrDefault(profile, Set.of()).stream()))
                .anyMatch(text -> text.contains(start));
    }

    private void account(JsonPart account) {
        Optional<String> id = account.text("id");
        String name = account.text("name").orElse(id.map(ResourceId::name).orElse(""));
        boolean isMeant = settings.host().isEmpty()
                || leadsTo(name)
                || account.text("properties", "customDomain", "name")
                        .filter(host -> host.equalsIgnoreCase(settings.host().orElse("")))
                        .isPresent();
        if (id.isEmpty() || !isMeant) {
            return;
        }
        String service = ResourceId.blobService(id.get());
        Optional<String> blobs = account.text("properties", "primaryEndpoints", "blob");
        ask("container-list", service);
        ask("management-policy", id.get());
        ask("diagnostic-setting-list", service);
        submit(() -> {
            List<SurveyLine> lines = read("blob-service", service, client.address(Interface.MANAGEMENT));
            boolean saysHosting = lines.stream()
                    .anyMatch(line -> line.outcome() == Outcome.FOUND
                            && line.document()
                                    .find("properties", "staticWebsite")
                                    .isPresent());
            if (!saysHosting && blobs.isPresent()) {
                keep("static-website", service, blobAddress(name, blobs.get()));
            }
        });
        blobs.ifPresent(url -> submit(
                () -> keep("container-blobs", ResourceId.container(id.get(), ResourceId.WEB), blobAddress(name, url))));
    }

    /** A simulated provider has all accounts at one address. */
    private String blobAddress(String account, String own) {
        return settings.endpoint().map(url -> url + "/" + account).orElse(own.replaceAll("/+$", ""));
    }

    /** What a profile holds hangs on its kind; of one that is not known both are asked. */
    private void edges(JsonPart found) {
        Optional<String> id = found.text("id");
        if (id.isEmpty()) {
            return;
        }
        String profile = id.get();
        Optional<String> kind = found.text("sku", "name");
        ask("diagnostic-setting-list", profile);
        if (kind.filter(sku -> sku.endsWith("_AzureFrontDoor")).isEmpty()) {
            classic(profile);
        }
        if (kind.filter(sku -> !sku.endsWith("_AzureFrontDoor")).isEmpty()) {
            frontDoor(profile);
        }
    }

    private void classic(String profile) {
        each("cdn-endpoint-list", profile, endpoint -> {
            note(endpoint);
            endpoint.text("id").ifPresent(id -> {
                ask("diagnostic-setting-list", id);
                ask("cdn-custom-domain-list", id);
            });
        });
    }

    private void frontDoor(String profile) {
        ask("front-door-secret-list", profile);
        each("front-door-custom-domain-list", profile, domain -> {
            boolean isHost = domain.text("properties", "hostName")
                    .filter(name -> name.equalsIgnoreCase(settings.host().orElse("")))
                    .isPresent();
            if (isHost) {
                profilesOfHost.add(profile);
            }
        });
        below("front-door-endpoint-list", profile, "front-door-route-list");
        below("front-door-origin-group-list", profile, "front-door-origin-list");
        below("front-door-rule-set-list", profile, "front-door-rule-list");
        each("front-door-security-policy-list", profile, policy -> policy.text(
                        "properties", "parameters", "wafPolicy", "id")
                .ifPresent(waf -> ask("waf-policy", waf)));
    }

    private void below(String list, String profile, String aspect) {
        each(list, profile, item -> item.text("id")
                .ifPresent(id -> each(aspect, id, each -> leadsByProfile
                        .computeIfAbsent(profile, key -> ConcurrentHashMap.newKeySet())
                        .add(lower(each)))));
    }

    private void assigned(JsonPart assignment) {
        String type = assignment.text("properties", "principalType").orElse("");
        Optional<String> principal = assignment.text("properties", "principalId");
        if (principal.isEmpty() || type.equalsIgnoreCase("User")) {
            return;
        }
        String of = (type.equalsIgnoreCase("Group") ? "groups/" : "servicePrincipals/") + principal.get();
        if (type.equalsIgnoreCase("Group") || !asked.add("principal " + of)) {
            return;
        }
        ask("member-of", of);
        submit(() -> read("service-principal", of, client.address(Interface.DIRECTORY)).stream()
                .filter(line -> line.outcome() == Outcome.FOUND)
                .flatMap(line -> line.document().text("appId").stream())
                .forEach(this::application));
    }

    /** The directory tells an application by the id that its principals bear; its own identifier is another. */
    private void application(String appId) {
        AzureClient.Answer found = client.get(
                Interface.DIRECTORY,
                client.address(Interface.DIRECTORY) + "/v1.0/applications?$filter="
                        + encoded("appId eq '" + appId + "'")
                        + "&$select=id,appId,displayName,passwordCredentials,keyCredentials");
        if (!found.isFound()) {
            if (!"Request_ResourceNotFound".equals(found.code())) {
                log.keep(List.of(line("application", "applications/*" + appId, "graph:GET", found)));
            }
            return;
        }
        for (JsonPart application : JsonReader.read(found.body())
                .root()
                .map(page -> page.list("value"))
                .orElse(List.of())) {
            application.text("id").ifPresent(id -> {
                String of = "applications/" + id;
                AzureAnswers.document("application", AzureAnswers.spelled(application))
                        .ifPresent(body -> log.keep(
                                List.of(new SurveyLine("", 1, "application", of, "graph:GET", Outcome.FOUND, body))));
                ask("federated-credential-list", of);
                ask("application-owners", of);
            });
        }
    }

    // --- asking

    private synchronized void submit(Runnable part) {
        work.add(threads.submit(part));
    }

    private void ask(String aspect, String of) {
        if (log.isKnown(aspect, of)) {
            return;
        }
        submit(() -> read(aspect, of, addressOf(aspect, of)));
    }

    private String addressOf(String aspect, String of) {
        return client.address(AzureCalls.of(aspect, of).orElseThrow().asked());
    }

    /** Reads a list and hands its elements on. */
    private void each(String aspect, String of, Consumer<JsonPart> element) {
        submit(() -> read(aspect, of, addressOf(aspect, of)).stream()
                .filter(line -> line.outcome() == Outcome.FOUND)
                .flatMap(line -> line.document().list("value").stream())
                .forEach(element));
    }

    private void keep(String aspect, String of, String address) {
        read(aspect, of, address);
    }

    /** Reads what one call tells, page by page, and writes it; what was read before is read again where more hangs on it. */
    private List<SurveyLine> read(String aspect, String of, String address) {
        if (!asked.add(aspect + " " + ResourceId.key(of))) {
            return List.of();
        }
        Request request = AzureCalls.of(aspect, of).orElseThrow();
        String first = address + path(request.path()) + "?" + query(request.query());
        String next = first;
        List<SurveyLine> lines = new ArrayList<>();
        Set<String> seen = new LinkedHashSet<>();
        int names = 0;
        while (!next.isEmpty() && seen.add(next)) {
            AzureClient.Answer answer = client.get(request.asked(), next);
            SurveyLine line = line(aspect, of, AzureCalls.called(request.asked()), answer);
            lines.add(line);
            names += NAMES_A_PAGE;
            boolean isEnough = aspect.equals("container-blobs") && names >= Math.max(settings.objects(), NAMES_A_PAGE);
            next = line.outcome() == Outcome.FOUND && !isEnough ? following(first, line.document()) : "";
        }
        log.keep(lines);
        return lines;
    }

    /** Returns where the next page is; empty after the last one, and where another address is named than the one that was asked. */
    private static String following(String first, JsonPart page) {
        Optional<String> marker = page.text("nextMarker").filter(text -> !text.isEmpty());
        if (marker.isPresent()) {
            return first + "&marker=" + encoded(marker.get());
        }
        return page.text("nextLink")
                .or(() -> page.text("@odata.nextLink"))
                .filter(url -> isOfSameOrigin(first, url))
                .orElse("");
    }

    /** A token is for one address; what an answer names must not lead it elsewhere. */
    private static boolean isOfSameOrigin(String one, String other) {
        try {
            URI first = URI.create(one.substring(0, one.indexOf('?')));
            URI second = URI.create(other.contains("?") ? other.substring(0, other.indexOf('?')) : other);
            return first.getScheme().equals(second.getScheme())
                    && first.getAuthority().equalsIgnoreCase(second.getAuthority());
        } catch (IllegalArgumentException | NullPointerException noAddress) {
            return false;
        }
    }

    private static SurveyLine line(String aspect, String of, String call, AzureClient.Answer answer) {
        if (answer.isFound()) {
            return AzureAnswers.document(aspect, answer.body())
                    .map(body -> new SurveyLine("", 1, aspect, of, call, Outcome.FOUND, body))
                    .orElseGet(() -> ReadingLog.unread(aspect, of, call, "NotUnderstood", "the answer is no document"));
        }
        if (answer.status() == 404 && AzureAspects.TABLE.meansAbsent(aspect, answer.code())) {
            return new SurveyLine("", 1, aspect, of, call, Outcome.ABSENT, answer.code());
        }
        return ReadingLog.unread(
                aspect,
                of,
                call,
                answer.code(),
                JsonReader.read(answer.body())
                        .root()
                        .flatMap(part -> part.text("error", "message"))
                        .orElse(answer.status() == 0 ? answer.body() : ""));
    }

    private static String path(String path) {
        return Stream.of(path.split("/", -1))
                .map(segment -> encoded(segment).replace("%24", "$"))
                .reduce((one, other) -> one + "/" + other)
                .orElse("");
    }

    private static String query(String query) {
        return query.replace(" ", "%20");
    }

    private static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }

    /** Waits until nothing is under way; parts may have added others meanwhile. */
    private void await() throws IOException {
        for (int i = 0; ; i++) {
            Future<?> next;
            synchronized (this) {
                if (i >= work.size()) {
                    return;
                }
                next = work.get(i);
            }
            try {
                next.get();
            } catch (InterruptedException stopped) {
                Thread.currentThread().interrupt();
                throw new IOException("stopped", stopped);
            } catch (ExecutionException failed) {
                if (failed.getCause() instanceof UncheckedIOException full) {
                    throw full.getCause();
                }
                throw new IllegalStateException(failed.getCause());
            }
        }
    }
}
