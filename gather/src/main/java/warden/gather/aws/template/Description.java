package warden.gather.aws.template;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import warden.core.document.Json;
import warden.core.document.Placeholders;
import warden.core.survey.Place;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;

/** The readings that descriptions give, and what was passed over on the way. */
final class Description {
    static final String NOT_TOLD = "NotTold";
    private static final String CALL = "template";

    private final String account;
    private final String region;
    private final Map<String, SurveyLine> lines = new LinkedHashMap<>();
    private final Map<String, Integer> passedOver = new TreeMap<>();
    private final Set<String> ofAnyBucket = new LinkedHashSet<>();
    private final Map<String, String> ofSomeBucket = new LinkedHashMap<>();
    private final Set<String> givenAway = new LinkedHashSet<>();
    private final Set<String> notes = new LinkedHashSet<>();
    private final List<String> removed = new ArrayList<>();
    private final Predicate<String> isBeside;
    private final Records records = new Records();
    private final Holdings holdings = new Holdings();
    private final Map<String, Place> made = new LinkedHashMap<>();
    private Optional<TemplateException> twice = Optional.empty();
    private final Map<String, String> zones = new LinkedHashMap<>();

    /**
     * Begins an empty one.
     *
     * @param account absent where nothing tells it
     * @param region absent where nothing tells it
     * @param isBeside whether the account has something of an identifier already
     */
    Description(Optional<String> account, Optional<String> region, Predicate<String> isBeside) {
        this.isBeside = isBeside;
        this.account = account.orElse(Placeholders.of("AWS::AccountId"));
        this.region = region.orElse(Placeholders.of("AWS::Region"));
    }

    String account() {
        return account;
    }

    String region() {
        return region;
    }

    /** Adds a reading, or that it is not told. */
    void found(String aspect, String of, Place place, Supplier<Object> document) {
        try {
            put(aspect, of, place, Outcome.FOUND, Json.text(document.get()));
        } catch (NotTold open) {
            unread(aspect, of, place, open.why());
        }
    }

    /** Returns the records that are described. */
    Records records() {
        return records;
    }

    /** Returns what is given to identities that stand elsewhere. */
    Holdings holdings() {
        return holdings;
    }

    /** Says that the description makes a bucket: what nothing says of it has the documented default. */
    void makesBucket(String arn, Place place) {
        made.putIfAbsent(arn, place);
    }

    /** Says that something is set of a bucket that is not told: of any bucket that is made here, and of which nobody else says the same. */
    void setsOfAnyBucket(String aspect) {
        ofAnyBucket.add(aspect);
    }

    /** Says that something is set of a bucket of which a part of the name is not told: of one that is made here by another name, if of none by this. */
    void setsOfSomeBucket(String aspect, String arn) {
        ofSomeBucket.put(arn, aspect);
    }

    /** True when the setting of a bucket may be told by what does not tell which bucket it is about. */
    boolean maySet(String aspect, String arn) {
        return ofAnyBucket.contains(aspect)
                || (!Placeholders.isIn(arn)
                        && ofSomeBucket.entrySet().stream()
                                .anyMatch(each -> each.getValue().equals(aspect) && !made.containsKey(each.getKey())));
    }

    /** Says that a part of the description that was not read is given this text: it may be about what the text names. */
    void givesAway(String text) {
        givenAway.add(text);
    }

    /** Says the same of every text in a value, those of which a part is not told among them. */
    void givesAway(@Nullable Object value) {
        if (value instanceof Map<?, ?> map) {
            map.values().forEach(this::givesAway);
        } else if (value instanceof List<?> list) {
            list.forEach(this::givesAway);
        } else if (value instanceof Unknown unknown) {
            givesAway(unknown.placeholder());
        } else if (value instanceof Partly partly) {
            givesAway(partly.text());
        } else if (value instanceof String text) {
            givesAway(text);
        }
    }

    /** True when a part that was not read may be about the thing of this name. */
    boolean isGivenAway(String name) {
        return givenAway.stream().anyMatch(text -> text.contains(name));
    }

    /** Adds what is known only once everything was said. */
    void complete() {
        records.describe(this);
        made.forEach((arn, place) -> BucketDefaults.fill(this, arn, place));
        for (SurveyLine line : holdings.over(lines(), lines())) {
            lines.put(line.aspect() + " " + line.of(), line);
        }
    }

    /** Ends where one thing is described twice. */
    void demandSingle() throws TemplateException {
        if (twice.isPresent()) {
            throw twice.get();
        }
    }

    /** True when the account has something of this identifier already, so that the description does not make it. */
    boolean isThere(String of) {
        return isBeside.test(of);
    }

    void absent(String aspect, String of, Place place, String code) {
        put(aspect, of, place, Outcome.ABSENT, code);
    }

    void unread(String aspect, String of, Place place, String why) {
        put(aspect, of, place, Outcome.UNREAD, notTold(why));
    }

    private static String notTold(String why) {
        return Json.text(Json.object("code", NOT_TOLD, "message", "the description does not tell: " + why));
    }

    /** Returns a reading that is not told. */
    static SurveyLine unreadLine(String aspect, String of, Place place, String why) {
        return new SurveyLine("", 1, aspect, of, CALL, Outcome.UNREAD, notTold(why), Optional.of(place));
    }

    private void put(String aspect, String of, Place place, Outcome outcome, String body) {
        SurveyLine before = lines.get(aspect + " " + of);
        Optional<Place> other = before == null ? Optional.empty() : before.from();
        if (other.filter(each ->
                        !each.address().equals(place.address()) || !each.file().equals(place.file()))
                .isPresent()) {
            twice = Optional.of(new TemplateException(
                    place.file(),
                    place.line(),
                    1,
                    "the " + aspect + " of " + of + " is described here, and at "
                            + other.get().file() + ":" + other.get().line() + "; leave one"));
        }
        lines.put(aspect + " " + of, new SurveyLine("", 1, aspect, of, CALL, outcome, body, Optional.of(place)));
    }

    boolean has(String aspect, String of) {
        return lines.containsKey(aspect + " " + of);
    }

    /** Says that what is now there will be gone, so that it is not taken from an account. */
    void removes(String of) {
        removed.add(of);
    }

    List<String> removed() {
        return removed;
    }

    /** True when nothing that it says is about anything that is looked at. */
    boolean isEmpty() {
        return lines.isEmpty() && removed.isEmpty() && holdings.isEmpty() && !records.removesAny();
    }

    void passOver(String type) {
        passedOver.merge(type, 1, Integer::sum);
    }

    void note(String note) {
        notes.add(note);
    }

    /** Returns the readings, in the order in which they were added. */
    List<SurveyLine> lines() {
        return List.copyOf(lines.values());
    }

    /** Returns what a person should know, a sentence each. */
    List<String> notes() {
        List<String> all = new ArrayList<>(notes);
        if (!passedOver.isEmpty()) {
            int count = passedOver.values().stream().mapToInt(Integer::intValue).sum();
            all.add("passed over " + count + (count == 1 ? " resource" : " resources")
                    + " of types that no check looks at: " + String.join(", ", passedOver.keySet()));
        }
        return all;
    }

    /** Returns the id under which a zone goes that is named, and not identified: that of the account beside, or a placeholder. */
    String zoneNamed(String name) {
        String plain = name.endsWith(".") ? name.substring(0, name.length() - 1) : name;
        return zones.getOrDefault(plain, Placeholders.of(plain));
    }

    /** Tells the zones of the account beside, by name without the final dot. */
    void knowZones(Map<String, String> byName) {
        zones.putAll(byName);
    }

    // --- names

    static String bucket(String name) {
        return "arn:aws:s3:::" + name;
    }

    String role(String path, String name) {
        return "arn:aws:iam::" + account + ":role" + path + name;
    }

    String user(String path, String name) {
        return "arn:aws:iam::" + account + ":user" + path + name;
    }

    String group(String path, String name) {
        return "arn:aws:iam::" + account + ":group" + path + name;
    }

    String policy(String path, String name) {
        return "arn:aws:iam::" + account + ":policy" + path + name;
    }

    /** Returns the ARN of a delivery pipeline. */
    String deliveryPipeline(String name) {
        return "arn:aws:codepipeline:" + region() + ":" + account() + ":" + name;
    }

    /** Returns the ARN of a managed hosting app. */
    String managedApp(String id) {
        return "arn:aws:amplify:" + region() + ":" + account() + ":apps/" + id;
    }

    String distribution(String id) {
        return "arn:aws:cloudfront::" + account + ":distribution/" + id;
    }

    String function(String name) {
        return "arn:aws:cloudfront::" + account + ":function/" + name;
    }

    String key(String id) {
        return "arn:aws:kms:" + region + ":" + account + ":key/" + id;
    }

    String certificate(String id, String inRegion) {
        return "arn:aws:acm:" + inRegion + ":" + account + ":certificate/" + id;
    }
}
