package warden.standin.azure;

import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import warden.core.azure.account.Container;
import warden.core.azure.account.ResourceId;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.survey.AzureCalls;
import warden.core.azure.survey.AzureCalls.Interface;
import warden.core.azure.survey.AzureCalls.Request;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.survey.Survey;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/** What the simulated subscription is at the moment: the survey that it was loaded from, with what clients have changed since. */
final class SubscriptionState {
    private final Survey loaded;
    private final Set<String> refused;
    private final BlobStore store;
    private final List<SurveyLine> lines;
    private long changes;
    private View view;
    private long viewed;

    SubscriptionState(Survey survey, List<SurveyLine> lines, Set<String> refused, Clock clock) {
        this.loaded = survey;
        this.refused = refused;
        this.lines = new ArrayList<>(lines);
        this.store = new BlobStore(clock);
        this.view = read(List.copyOf(lines));
    }

    /**
     * The subscription as the core reads it.
     *
     * @param byCall the readings, by the call that reads them: the pages in order
     * @param byClientId documents of applications and principals, by aspect and client id in lower case
     */
    record View(
            AzureAccount account,
            Permits permits,
            Map<String, List<SurveyLine>> byCall,
            Map<String, String> byClientId) {
        /** Returns the pages that a call reads; empty where the survey says nothing of it. */
        List<SurveyLine> pages(Interface asked, String key) {
            return byCall.getOrDefault(asked + " " + key, List.of());
        }
    }

    /** Where a resource's document stands: in which line, and which item of a list, or none. */
    record Found(int line, Optional<Integer> item, JsonPart document) {}

    BlobStore store() {
        return store;
    }

    /** Returns the subscription as it is now, listings of changed containers included. */
    synchronized View view() {
        long now = changes + store.changes();
        if (now != viewed) {
            view = read(current());
            viewed = now;
        }
        return view;
    }

    /** Returns every reading as it is now. */
    synchronized List<SurveyLine> current() {
        Map<String, Container> touched = new LinkedHashMap<>();
        store.touched().stream().sorted().forEach(id -> view.account()
                .subscription()
                .account(id)
                .map(each -> each.container(ResourceId.name(id)))
                .ifPresent(container -> touched.put(ResourceId.key(id), container)));
        List<SurveyLine> all = new ArrayList<>();
        for (SurveyLine line : lines) {
            if (!line.aspect().equals("container-blobs") || !touched.containsKey(ResourceId.key(line.of()))) {
                all.add(line);
            }
        }
        touched.values().forEach(container -> all.add(listing(container)));
        return all;
    }

    /** Returns the header with which it was loaded. */
    SurveyHeader header() {
        return loaded.header();
    }

    private View read(List<SurveyLine> all) {
        Survey.Collector collector = new Survey.Collector(loaded.aspects());
        Map<String, List<SurveyLine>> byCall = new LinkedHashMap<>();
        Map<String, String> byClientId = new HashMap<>();
        for (SurveyLine line : all) {
            collector.add(line);
            boolean isPrincipal =
                    line.aspect().equals("application") || line.aspect().equals("service-principal");
            if (line.outcome() == Outcome.FOUND && isPrincipal) {
                line.document()
                        .text("appId")
                        .ifPresent(id ->
                                byClientId.putIfAbsent(line.aspect() + " " + id.toLowerCase(Locale.ROOT), line.body()));
            }
            AzureCalls.of(line.aspect(), line.of())
                    .ifPresent(request -> byCall.computeIfAbsent(key(request, line.of()), key -> new ArrayList<>())
                            .add(line));
        }
        AzureAccount account = new AzureAccount(collector.toSurvey(loaded.header()));
        return new View(account, new Permits(account, refused), byCall, byClientId);
    }

    private static String key(Request request, String of) {
        String account = request.asked() == Interface.BLOBS
                ? ResourceId.accountIn(of).map(ResourceId::name).orElse("")
                : "";
        boolean isAtScope = request.query().contains("atScope()");
        return request.asked() + " " + account + ResourceId.key(request.path()) + (isAtScope ? "?atScope()" : "");
    }

    /** The whole listing of a container as a reading: what was never listed stays not listed. */
    private SurveyLine listing(Container container) {
        List<Object> blobs = new ArrayList<>();
        store.all(container)
                .forEach((name, blob) -> blobs.add(Json.object(
                        "name",
                        name,
                        "properties",
                        Json.object(
                                "contentLength",
                                blob.content().length,
                                "contentType",
                                blob.properties().type(),
                                "cacheControl",
                                blob.properties().cacheControl(),
                                "contentEncoding",
                                blob.properties().encoding(),
                                "lastModified",
                                blob.modified().toString(),
                                "blobType",
                                "BlockBlob",
                                "accessTier",
                                "Hot"))));
        String more = container.blobs().open().isPresent() ? "not listed" : "";
        return new SurveyLine(
                "stand-in",
                1,
                "container-blobs",
                container.id(),
                "blob:ListBlobs",
                Outcome.FOUND,
                Json.text(Json.object("value", blobs, "nextMarker", more)));
    }

    // --- changes to resources of the management API

    /** Finds every place in which a resource's document stands: its own reading, and the lists that hold it. */
    synchronized List<Found> find(String id) {
        List<Found> found = new ArrayList<>();
        for (int i = 0; i < lines.size(); i++) {
            SurveyLine line = lines.get(i);
            if (line.outcome() != Outcome.FOUND || !isOfManagement(line)) {
                continue;
            }
            JsonPart document = line.document();
            if (isNamed(document, id) || !isList(document) && ResourceId.same(line.of(), id)) {
                found.add(new Found(i, Optional.empty(), document));
                continue;
            }
            List<JsonPart> items = document.list("value");
            for (int item = 0; item < items.size(); item++) {
                if (isNamed(items.get(item), id)) {
                    found.add(new Found(i, Optional.of(item), items.get(item)));
                }
            }
        }
        return found;
    }

    private static boolean isOfManagement(SurveyLine line) {
        return AzureCalls.of(line.aspect(), line.of())
                .filter(request -> request.asked() == Interface.MANAGEMENT)
                .isPresent();
    }

    private static boolean isList(JsonPart document) {
        return document.find("value").isPresent();
    }

    private static boolean isNamed(JsonPart document, String id) {
        return document.text("id").filter(each -> ResourceId.same(each, id)).isPresent();
    }

    synchronized SurveyLine line(int index) {
        return lines.get(index);
    }

    /** Returns the readings for which a choice holds, by their places. */
    synchronized List<Integer> places(java.util.function.Predicate<SurveyLine> choice) {
        List<Integer> places = new ArrayList<>();
        for (int i = 0; i < lines.size(); i++) {
            if (choice.test(lines.get(i))) {
                places.add(i);
            }
        }
        return places;
    }

    /** Puts another answer in a reading's place. */
    synchronized void replace(int index, Outcome outcome, String body) {
        SurveyLine old = lines.get(index);
        lines.set(index, new SurveyLine(old.file(), old.line(), old.aspect(), old.of(), old.call(), outcome, body));
        changes++;
    }
}
