package warden.standin;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BiFunction;
import org.jspecify.annotations.Nullable;
import warden.core.aws.account.Account;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.Bucket;
import warden.core.aws.survey.AwsAspects;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.site.SiteFile;
import warden.core.survey.Reading;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;
import warden.core.survey.SurveyWriter;

/** What the simulated account holds: the readings of a survey, and objects that deployments change. Safe for use by several threads. */
final class CloudState {
    /**
     * One object.
     *
     * @param entry what a listing says of it, JSON
     * @param head what head-object says of it, JSON; null when the survey had no line
     * @param content null as long as it is made up
     */
    record StoredObject(String key, String entry, @Nullable String head, byte @Nullable [] content) {
        long size() {
            return content != null
                    ? content.length
                    : Long.parseLong(part(entry).text("Size").orElse("0"));
        }

        static JsonPart part(String json) {
            return warden.core.document.JsonReader.read(json).root().orElseThrow();
        }
    }

    private final SurveyHeader header;
    private final Map<String, SurveyLine> lines = new LinkedHashMap<>();
    private final Map<String, List<SurveyLine>> pages = new LinkedHashMap<>();
    private final Map<String, TreeMap<String, StoredObject>> objects = new LinkedHashMap<>();
    private final BiFunction<String, String, Optional<byte[]>> contents;
    private @Nullable Account account;
    private @Nullable AwsCloud cloud;

    /**
     * Loads a survey.
     *
     * @param contents what objects hold, by bucket name and key; absent for those whose content is to be made up
     */
    CloudState(SurveyHeader header, List<SurveyLine> readings, BiFunction<String, String, Optional<byte[]>> contents) {
        this.header = header;
        this.contents = contents;
        Survey.Collector collector = new Survey.Collector(AwsAspects.TABLE);
        for (SurveyLine line : readings) {
            collector.add(line);
            String id = line.aspect() + " " + line.of();
            lines.put(id, line);
            pages.computeIfAbsent(id, key -> new ArrayList<>()).add(line);
        }
        Survey survey = collector.toSurvey(header);
        for (String arn : survey.subjects("bucket-objects")) {
            survey.listing("bucket-objects", arn).found().ifPresent(listing -> {
                TreeMap<String, StoredObject> stored = new TreeMap<>();
                for (Reading.Found<JsonPart> page : listing.pages()) {
                    page.value().list("Contents").forEach(entry -> entry.text("Key")
                            .ifPresent(key -> {
                                SurveyLine head = lines.get("object " + arn + "/" + key);
                                boolean found = head != null && head.outcome() == SurveyLine.Outcome.FOUND;
                                stored.put(
                                        key,
                                        new StoredObject(
                                                key, JsonSpelling.of(entry), found ? head.body() : null, null));
                            }));
                }
                objects.put(arn, stored);
            });
        }
    }

    SurveyHeader header() {
        return header;
    }

    /** Returns the account as it is now, for decisions. */
    synchronized Account account() {
        if (account == null) {
            account = new Account(survey());
        }
        return account;
    }

    /** Returns the account's sites as they are now. */
    synchronized AwsCloud cloud() {
        if (cloud == null) {
            cloud = new AwsCloud(List.of(account()), SiteFile.empty());
        }
        return cloud;
    }

    private void changed() {
        account = null;
        cloud = null;
    }

    /** Brings the parsed account up to date with what a bucket holds; what is set on it, and everything else, stays parsed. */
    private void holds(String bucketArn, String key) {
        if (account == null || !objects.containsKey(bucketArn)) {
            changed();
            return;
        }
        cloud = null;
        StoredObject object = objects.get(bucketArn).get(key);
        String of = bucketArn + "/" + key;
        Survey survey = account.survey().with(line("bucket-objects", bucketArn, "s3:ListBucket", listing(bucketArn)));
        survey = object != null && object.head() != null
                ? survey.with(line("object", of, "s3:GetObject", object.head()))
                : survey.without("object", of);
        if (object == null) {
            survey = survey.without("object-acl", of);
        }
        account = account.holding(survey, bucketArn);
    }

    synchronized Survey survey() {
        Survey.Collector collector = new Survey.Collector(AwsAspects.TABLE);
        allLines().forEach(collector::add);
        return collector.toSurvey(header);
    }

    /** Returns the state as a survey's text. */
    synchronized String text() {
        StringWriter out = new StringWriter();
        SurveyWriter writer = new SurveyWriter(out);
        try {
            writer.header(header);
            for (SurveyLine line : allLines()) {
                writer.reading(line);
            }
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        return out.toString();
    }

    private List<SurveyLine> allLines() {
        List<SurveyLine> all = new ArrayList<>();
        pages.forEach((id, list) -> {
            String aspect = id.substring(0, id.indexOf(' '));
            String of = id.substring(id.indexOf(' ') + 1);
            if (aspect.equals("bucket-objects") && objects.containsKey(of)) {
                all.add(line(aspect, of, "s3:ListBucket", listing(of)));
            } else if (!aspect.equals("object") || list.get(0).outcome() != SurveyLine.Outcome.FOUND) {
                all.addAll(list);
            }
        });
        objects.forEach((arn, stored) -> stored.values().stream()
                .filter(object -> object.head() != null)
                .forEach(object -> all.add(line("object", arn + "/" + object.key(), "s3:GetObject", object.head()))));
        return all;
    }

    private String listing(String arn) {
        List<Json.Raw> entries = objects.get(arn).values().stream()
                .map(StoredObject::entry)
                .map(Json.Raw::new)
                .toList();
        return Json.text(Json.object(
                "Contents",
                entries,
                "IsTruncated",
                false,
                "KeyCount",
                entries.size(),
                "Name",
                arn.substring(arn.lastIndexOf(':') + 1)));
    }

    private SurveyLine line(String aspect, String of, String call, @Nullable String body) {
        return new SurveyLine(header.file(), 1, aspect, of, call, SurveyLine.Outcome.FOUND, body == null ? "{}" : body);
    }

    /** Returns the line that answers a question; absent when it was never asked. */
    synchronized Optional<SurveyLine> line(String aspect, String of) {
        return Optional.ofNullable(lines.get(aspect + " " + of));
    }

    /** Returns the pages of a listing in their order. */
    synchronized List<SurveyLine> pages(String aspect, String of) {
        return List.copyOf(pages.getOrDefault(aspect + " " + of, List.of()));
    }

    /** Returns the subjects of an aspect whose line is found. */
    synchronized List<String> subjects(String aspect) {
        return lines.values().stream()
                .filter(line -> line.aspect().equals(aspect) && line.outcome() == SurveyLine.Outcome.FOUND)
                .map(SurveyLine::of)
                .toList();
    }

    /** Replaces what is known about something. */
    synchronized void put(String aspect, String of, String call, String body) {
        SurveyLine line = line(aspect, of, call, body);
        lines.put(aspect + " " + of, line);
        pages.put(aspect + " " + of, new ArrayList<>(List.of(line)));
        changed();
    }

    /** Says that there is none of something. */
    synchronized void putAbsent(String aspect, String of, String call, String code) {
        SurveyLine line = new SurveyLine(header.file(), 1, aspect, of, call, SurveyLine.Outcome.ABSENT, code);
        lines.put(aspect + " " + of, line);
        pages.put(aspect + " " + of, new ArrayList<>(List.of(line)));
        changed();
    }

    /** Forgets what was known about something that is no more. */
    synchronized void forget(String aspect, String of) {
        lines.remove(aspect + " " + of);
        pages.remove(aspect + " " + of);
        changed();
    }

    synchronized boolean hasBucket(String arn) {
        return account().buckets().stream().anyMatch(bucket -> bucket.arn().equals(arn));
    }

    /** Returns the objects of a bucket from {@code after} (not included) on, in the order of their keys. */
    synchronized List<StoredObject> objects(String bucketArn, String after) {
        return List.copyOf(objects.getOrDefault(bucketArn, new TreeMap<>())
                .tailMap(after, false)
                .values());
    }

    synchronized Optional<StoredObject> object(String bucketArn, String key) {
        return Optional.ofNullable(
                objects.getOrDefault(bucketArn, new TreeMap<>()).get(key));
    }

    synchronized void store(String bucketArn, StoredObject object) {
        pages.computeIfAbsent(
                "bucket-objects " + bucketArn,
                id -> new ArrayList<>(List.of(line("bucket-objects", bucketArn, "s3:ListBucket", "{}"))));
        objects.computeIfAbsent(bucketArn, arn -> new TreeMap<>()).put(object.key(), object);
        holds(bucketArn, object.key());
    }

    synchronized void remove(String bucketArn, String key) {
        objects.getOrDefault(bucketArn, new TreeMap<>()).remove(key);
        lines.remove("object-acl " + bucketArn + "/" + key);
        pages.remove("object-acl " + bucketArn + "/" + key);
        holds(bucketArn, key);
    }

    /** Returns what an object holds: what was uploaded, what a folder holds, or text made up to its size. */
    byte[] content(String bucketArn, StoredObject object) {
        if (object.content() != null) {
            return object.content();
        }
        return contents.apply(bucketArn.substring(bucketArn.lastIndexOf(':') + 1), object.key())
                .orElseGet(() -> {
                    byte[] made = new byte[(int) Math.min(object.size(), 4 * 1024 * 1024)];
                    byte[] words = ("Made up for " + object.key() + ". ").getBytes(StandardCharsets.UTF_8);
                    for (int i = 0; i < made.length; i++) {
                        made[i] = words[i % words.length];
                    }
                    return made;
                });
    }

    static String md5(byte[] content) {
        return HexFormat.of().formatHex(digest("MD5", content));
    }

    static byte[] digest(String algorithm, byte[] content) {
        try {
            return MessageDigest.getInstance(algorithm).digest(content);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** Reads a survey's text into a state. */
    static CloudState parse(String text, String file, BiFunction<String, String, Optional<byte[]>> contents)
            throws SurveyException {
        List<SurveyLine> readings = new ArrayList<>();
        try {
            SurveyHeader header = SurveyReader.read(
                    new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), file, readings::add);
            return new CloudState(header, readings, contents);
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
    }

    static String bucketArn(String name) {
        return Bucket.arnOf(name);
    }
}
