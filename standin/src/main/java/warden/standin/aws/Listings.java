package warden.standin.aws;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import software.amazon.awssdk.services.s3.model.S3Object;
import warden.core.survey.SurveyLine;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.XmlText;

/** Lists what a bucket holds: objects, in both versions of the call, and versions. Source: S3 API Reference, ListObjects, ListObjectsV2, ListObjectVersions. */
final class Listings {
    private static final int MOST_KEYS = 1_000;

    private final CloudState state;
    private final Gatekeeper gatekeeper;

    Listings(CloudState state, Gatekeeper gatekeeper) {
        this.state = state;
        this.gatekeeper = gatekeeper;
    }

    /** What a request asks for; names are spelled for URLs where it says so. */
    private record Asked(String prefix, String delimiter, boolean isEscaped, int most) {
        static Asked of(Call call) {
            String most = call.parameter("max-keys").orElse(Integer.toString(MOST_KEYS));
            if (!most.matches("[0-9]{1,9}")) {
                throw new Refusal(400, "InvalidArgument", "Provided max-keys not an integer or within integer range");
            }
            return new Asked(
                    call.parameter("prefix").orElse(""),
                    call.parameter("delimiter").orElse(""),
                    call.parameter("encoding-type").filter("url"::equals).isPresent(),
                    Math.min(MOST_KEYS, Integer.parseInt(most)));
        }

        String shown(String key) {
            return isEscaped ? URLEncoder.encode(key, StandardCharsets.UTF_8).replace("%2F", "/") : key;
        }

        /** Returns the folder that a key is folded into; empty for none. */
        String folder(String key) {
            int cut = delimiter.isEmpty() ? -1 : key.indexOf(delimiter, prefix.length());
            return cut < 0 ? "" : key.substring(0, cut + delimiter.length());
        }

        void told(XmlText xml, String bucketArn) {
            xml.text("Name", CloudState.nameOf(bucketArn)).text("Prefix", shown(prefix));
            if (!delimiter.isEmpty()) {
                xml.text("Delimiter", shown(delimiter));
            }
            if (isEscaped) {
                xml.text("EncodingType", "url");
            }
            xml.text("MaxKeys", most);
        }

        void folders(XmlText xml, Set<String> folders) {
            folders.forEach(folder -> xml.element("CommonPrefixes", inner -> inner.text("Prefix", shown(folder))));
        }
    }

    private void demandKnown(String arn) {
        SurveyLine line = state.line("bucket-objects", arn).orElse(null);
        if (line == null || line.outcome() == SurveyLine.Outcome.UNREAD) {
            throw new Refusal(
                    501, "NotImplemented", "What the bucket holds was not read, so it cannot be listed or told");
        }
    }

    Reply objects(Call call, String arn) {
        boolean isSecond = "2".equals(call.query().get("list-type"));
        call.needs().operation(isSecond ? "ListObjectsV2" : "ListObjects");
        gatekeeper.demand(call, "s3:ListBucket", arn, RequestKeys.ofListing(call));
        demandKnown(arn);
        Asked asked = Asked.of(call);
        String after = isSecond
                ? call.parameter("continuation-token")
                        .map(Listings::untokened)
                        .orElse(call.parameter("start-after").orElse(""))
                : call.parameter("marker").orElse("");
        List<StoredObject> all = state.objects().after(arn, after);
        StringBuilder contents = new StringBuilder();
        Set<String> folders = new LinkedHashSet<>();
        String last = "";
        int count = 0;
        boolean isTruncated = false;
        for (StoredObject object : all) {
            String key = object.key();
            if (!key.startsWith(asked.prefix())) {
                continue;
            }
            String folder = asked.folder(key);
            if (!folder.isEmpty() && (folders.contains(folder) || after.startsWith(folder))) {
                continue;
            }
            if (count == asked.most()) {
                isTruncated = asked.most() > 0;
                break;
            }
            if (folder.isEmpty()) {
                contents.append(entry(object, asked));
                last = key;
            } else {
                folders.add(folder);
                last = folder + Character.toString(Character.MAX_CODE_POINT);
            }
            count++;
        }
        int counted = count;
        boolean goesOn = isTruncated;
        String end = last;
        return StorageXml.reply("ListBucketResult", xml -> {
            asked.told(xml, arn);
            if (isSecond) {
                xml.text("KeyCount", counted);
                call.parameter("continuation-token").ifPresent(token -> xml.text("ContinuationToken", token));
                call.parameter("start-after").ifPresent(key -> xml.text("StartAfter", asked.shown(key)));
            } else {
                xml.text("Marker", asked.shown(after));
            }
            xml.text("IsTruncated", goesOn);
            if (goesOn) {
                // The older call tells the next marker only where it folds.
                if (isSecond) {
                    xml.text("NextContinuationToken", tokened(end));
                } else if (!asked.delimiter().isEmpty()) {
                    xml.text("NextMarker", asked.shown(end));
                }
            }
            xml.spelled(contents.toString());
            asked.folders(xml, folders);
        });
    }

    private static String entry(StoredObject object, Asked asked) {
        return XmlText.of("Contents", "", xml -> {
            xml.text("Key", asked.shown(object.key()));
            xml.spelled(
                    WireSpelling.xml(S3Object.builder().build(), object.entry()).replaceFirst("^<Key>[^<]*</Key>", ""));
        });
    }

    private static String tokened(String key) {
        return Base64.getUrlEncoder().withoutPadding().encodeToString(key.getBytes(StandardCharsets.UTF_8));
    }

    private static String untokened(String token) {
        try {
            return new String(Base64.getUrlDecoder().decode(token), StandardCharsets.UTF_8);
        } catch (IllegalArgumentException foreign) {
            throw new Refusal(400, "InvalidArgument", "The continuation token provided is incorrect");
        }
    }

    Reply versions(Call call, String arn) {
        call.needs().operation("ListObjectVersions");
        gatekeeper.demand(call, "s3:ListBucketVersions", arn, RequestKeys.ofListing(call));
        demandKnown(arn);
        Asked asked = Asked.of(call);
        String from = call.parameter("key-marker").orElse("");
        Optional<String> behind = call.parameter("version-id-marker").filter(id -> !id.isEmpty());
        List<StoredObject> all = state.objects().versions(arn, from);
        StringBuilder entries = new StringBuilder();
        Set<String> folders = new LinkedHashSet<>();
        StoredObject last = null;
        boolean isBehind = from.isEmpty();
        String newestOf = null;
        boolean isTruncated = false;
        int count = 0;
        for (StoredObject object : all) {
            boolean isNewest = !object.key().equals(newestOf);
            newestOf = object.key();
            if (!isBehind && object.key().equals(from)) {
                isBehind = behind.filter(object.version()::equals).isPresent();
                continue;
            }
            isBehind = true;
            String folder = asked.folder(object.key());
            if (!object.key().startsWith(asked.prefix()) || folders.contains(folder)) {
                continue;
            }
            if (count == asked.most()) {
                isTruncated = true;
                break;
            }
            if (folder.isEmpty()) {
                entries.append(version(object, isNewest, asked));
            } else {
                folders.add(folder);
            }
            last = object;
            count++;
        }
        StoredObject end = last;
        boolean goesOn = isTruncated;
        return StorageXml.reply("ListVersionsResult", xml -> {
            asked.told(xml, arn);
            xml.text("KeyMarker", asked.shown(from)).text("VersionIdMarker", behind.orElse(""));
            xml.text("IsTruncated", goesOn);
            if (goesOn && end != null) {
                xml.text("NextKeyMarker", asked.shown(end.key())).text("NextVersionIdMarker", end.version());
            }
            xml.spelled(entries.toString());
            asked.folders(xml, folders);
        });
    }

    private static String version(StoredObject object, boolean isNewest, Asked asked) {
        return XmlText.of(object.isMarker() ? "DeleteMarker" : "Version", "", xml -> {
            xml.text("Key", asked.shown(object.key()))
                    .text("VersionId", object.version())
                    .text("IsLatest", isNewest);
            object.modified().ifPresent(at -> xml.text("LastModified", at.replace("+00:00", "Z")));
            if (!object.isMarker()) {
                object.tag().ifPresent(tag -> xml.text("ETag", tag));
                xml.text("Size", object.size())
                        .text(
                                "StorageClass",
                                object.entry().text("StorageClass").orElse("STANDARD"));
            }
        });
    }
}
