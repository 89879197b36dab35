package warden.core.azure.mend;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import warden.core.azure.account.ResourceId;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.survey.AzureCalls;
import warden.core.document.Json;
import warden.core.document.JsonEdit;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.mend.Call;
import warden.core.mend.Edited;
import warden.core.survey.Survey;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/**
 * The resources of a subscription, wherever a survey shows them: as a reading of their own, or as an item of a list. Each is read and written
 * through the official command line's plain call of the management interface. Source: Azure CLI reference, "az rest"; REST API reference of each
 * resource provider.
 */
final class Resources {
    static final Edited.Program PROGRAM =
            new Edited.Program("az", Call.of("account", "show", "--query=id", "--output=tsv"));

    private final AzureAccount account;

    Resources(AzureAccount account) {
        this.account = account;
    }

    /**
     * A place of a survey at which a resource stands.
     *
     * @param item its place in a list; absent for a reading of its own
     */
    private record Place(SurveyLine line, Optional<Integer> item, JsonPart document) {}

    private List<Place> places(String id) {
        List<Place> places = new ArrayList<>();
        Map<String, Integer> pages = new LinkedHashMap<>();
        Survey survey = account.survey();
        survey.lines().forEach(line -> pages.merge(line.aspect() + " " + line.of(), 1, Integer::sum));
        for (SurveyLine line : survey.lines()) {
            boolean isOne = pages.get(line.aspect() + " " + line.of()) == 1;
            if (line.outcome() != Outcome.FOUND || !isOne || !mentions(line.body(), id)) {
                continue;
            }
            JsonPart root = line.document();
            if (isIt(root, id)) {
                places.add(new Place(line, Optional.empty(), root));
            }
            List<JsonPart> items = root.list("value");
            for (int i = 0; i < items.size(); i++) {
                if (isIt(items.get(i), id)) {
                    places.add(new Place(line, Optional.of(i), items.get(i)));
                }
            }
        }
        return places;
    }

    private static boolean mentions(String body, String id) {
        return body.toLowerCase(java.util.Locale.ROOT)
                .contains(ResourceId.name(id).toLowerCase(java.util.Locale.ROOT));
    }

    private static boolean isIt(JsonPart part, String id) {
        return part.text("id").filter(own -> ResourceId.same(own, id)).isPresent();
    }

    /** Returns a resource as surveyed; absent where no reading shows it whole. */
    Optional<JsonPart> find(String id) {
        return places(id).stream().findFirst().map(Place::document);
    }

    private static SurveyLine line(SurveyLine old, String body) {
        return new SurveyLine("", 1, old.aspect(), old.of(), old.call(), Outcome.FOUND, body);
    }

    /** Returns every reading of a resource with another text in its place. */
    private List<SurveyLine> with(String id, UnaryOperator<String> edit) {
        Map<String, String> bodies = new LinkedHashMap<>();
        Map<String, SurveyLine> lines = new LinkedHashMap<>();
        for (Place place : places(id)) {
            String key = place.line().aspect() + " " + place.line().of();
            lines.put(key, place.line());
            String body = bodies.getOrDefault(key, place.line().body());
            String now = edit.apply(JsonSpelling.of(place.document()));
            bodies.put(
                    key,
                    place.item()
                            .map(item -> JsonEdit.set(body, "/value/" + item, now))
                            .orElse(now));
        }
        List<SurveyLine> changed = new ArrayList<>();
        bodies.forEach((key, body) -> changed.add(line(lines.get(key), body)));
        return changed;
    }

    private static String url(String id, String version) {
        return "--url=" + id + "?api-version=" + version;
    }

    /**
     * Changes some properties of a resource, and leaves the rest to the service.
     *
     * @param values JSON text by the property's name
     */
    Optional<Edited> patch(String id, String version, String title, Map<String, String> values) {
        Optional<JsonPart> found = find(id);
        if (found.isEmpty()) {
            return Optional.empty();
        }
        Map<String, Object> before = new LinkedHashMap<>();
        Map<String, Object> after = new LinkedHashMap<>();
        values.forEach((name, value) -> {
            before.put(
                    name,
                    found.get()
                            .find("properties", name)
                            .<Object>map(part -> part)
                            .orElse(null));
            after.put(name, new Json.Raw(value));
        });
        if (Json.text(before).equals(Json.text(after))) {
            return Optional.empty();
        }
        String query = "--query=properties.{"
                + String.join(
                        ",",
                        values.keySet().stream().map(name -> name + ":" + name).toList()) + "}";
        UnaryOperator<String> edit = text -> {
            String edited = text;
            for (Map.Entry<String, String> value : values.entrySet()) {
                edited = JsonEdit.set(edited, "/properties/" + value.getKey(), value.getValue());
            }
            return edited;
        };
        return Optional.of(edited(
                title,
                id,
                Call.of("rest", "--method=get", url(id, version), query, "--output=json"),
                List.of(),
                Optional.of(Json.text(before)),
                Optional.of(Json.text(after)),
                send("patch", id, version, Json.text(Json.object("properties", after))),
                send("patch", id, version, Json.text(Json.object("properties", before))),
                with(id, edit)));
    }

    /** Changes all properties of a resource that is written whole. */
    Optional<Edited> put(String id, String version, String title, UnaryOperator<String> change) {
        Optional<String> before =
                find(id).flatMap(part -> part.find("properties")).map(JsonSpelling::of);
        Optional<String> after = before.map(change);
        if (before.isEmpty() || before.equals(after)) {
            return Optional.empty();
        }
        return Optional.of(edited(
                title,
                id,
                Call.of("rest", "--method=get", url(id, version), "--query=properties", "--output=json"),
                List.of(),
                before,
                after,
                send("put", id, version, properties(after.get())),
                send("put", id, version, properties(before.get())),
                with(id, text -> JsonEdit.set(text, "/properties", after.get()))));
    }

    private static String properties(String text) {
        return Json.text(Json.object("properties", new Json.Raw(text)));
    }

    /**
     * Makes a resource, an item of lists.
     *
     * @param lists the aspects and subjects of the lists in which it stands
     */
    Optional<Edited> make(String id, String version, String title, String properties, List<SurveyLine> lists) {
        if (find(id).isPresent() || lists.isEmpty()) {
            return Optional.empty();
        }
        String made =
                Json.text(Json.object("id", id, "name", ResourceId.name(id), "properties", new Json.Raw(properties)));
        return Optional.of(edited(
                title,
                id,
                Call.of("rest", "--method=get", url(id, version), "--query=properties", "--output=json"),
                ABSENT,
                Optional.empty(),
                Optional.of(properties),
                send("put", id, version, properties(properties)),
                Call.of("rest", "--method=delete", url(id, version)),
                lists.stream()
                        .map(list -> line(list, JsonEdit.set(list.body(), "/value/-", made)))
                        .toList()));
    }

    private static final List<String> ABSENT =
            List.of("NotFound", "ResourceNotFound", "RoleAssignmentNotFound", "RoleDefinitionDoesNotExist");

    /** Takes a resource away; it can be made again as it was. */
    Optional<Edited> delete(String id, String version, String title) {
        Optional<String> before =
                find(id).flatMap(part -> part.find("properties")).map(JsonSpelling::of);
        if (before.isEmpty()) {
            return Optional.empty();
        }
        Map<String, String> bodies = new LinkedHashMap<>();
        Map<String, SurveyLine> lines = new LinkedHashMap<>();
        List<Place> places = places(id);
        for (int i = places.size() - 1; i >= 0; i--) {
            Place place = places.get(i);
            if (place.item().isEmpty()) {
                return Optional.empty();
            }
            String key = place.line().aspect() + " " + place.line().of();
            lines.put(key, place.line());
            bodies.put(
                    key,
                    JsonEdit.remove(
                            bodies.getOrDefault(key, place.line().body()),
                            "/value/" + place.item().get()));
        }
        List<SurveyLine> changed = new ArrayList<>();
        bodies.forEach((key, body) -> changed.add(line(lines.get(key), body)));
        return Optional.of(edited(
                title,
                id,
                Call.of("rest", "--method=get", url(id, version), "--query=properties", "--output=json"),
                ABSENT,
                before,
                Optional.empty(),
                Call.of("rest", "--method=delete", url(id, version)),
                send("put", id, version, properties(before.get())),
                changed));
    }

    /** Returns the lists of an aspect, each of one page. */
    List<SurveyLine> lists(String aspect) {
        return account.survey().lines().stream()
                .filter(line -> line.aspect().equals(aspect) && line.outcome() == Outcome.FOUND)
                .filter(line -> line.document().find("value").isPresent())
                .filter(line -> line.document().text("nextLink").isEmpty())
                .toList();
    }

    private static Call send(String method, String id, String version, String body) {
        return Call.with(body, "rest", "--method=" + method, url(id, version), "--body=@" + Call.FILE);
    }

    /** Returns the version of the interface by which an aspect is read. */
    static String version(String aspect, String id) {
        return AzureCalls.of(aspect, id)
                .map(request -> request.query().replaceFirst(".*api-version=", ""))
                .orElseThrow();
    }

    private static Edited edited(
            String title,
            String id,
            Call read,
            List<String> absence,
            Optional<String> before,
            Optional<String> after,
            Call apply,
            Call undo,
            List<SurveyLine> readings) {
        return Edited.of(
                title,
                id,
                PROGRAM,
                new Edited.Document(read, absence, before, after),
                Edited.Calls.of(apply, undo),
                readings);
    }
}
