package warden.standin.aws;

import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import software.amazon.awssdk.services.cloudfront.model.InvalidationBatch;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;
import warden.core.survey.SurveyLine;
import warden.standin.Refusal;
import warden.standin.Reply;
import warden.standin.XmlText;

/**
 * What distributions are told to forget. Each is done at once, so that who waits for it need not wait. Source: CloudFront API Reference,
 * CreateInvalidation, GetInvalidation, ListInvalidations.
 */
final class Invalidations {
    private static final int MOST_LISTED = 100;

    /** One batch. */
    private record Batch(String id, String reference, Instant at, List<String> paths) {}

    private final CloudState state;
    private final Gatekeeper gatekeeper;
    private final Clock clock;
    private final Map<String, List<Batch>> byDistribution = new LinkedHashMap<>();
    private final List<String> all = Collections.synchronizedList(new ArrayList<>());
    private long number;

    Invalidations(CloudState state, Gatekeeper gatekeeper, Clock clock) {
        this.state = state;
        this.gatekeeper = gatekeeper;
        this.clock = clock;
    }

    /** Returns the paths in their order, each behind its distribution's ARN and a blank. */
    List<String> paths() {
        synchronized (all) {
            return List.copyOf(all);
        }
    }

    /**
     * Answers a call.
     *
     * @param id of one batch; empty for making one or listing them
     */
    synchronized Reply answer(Call call, String distribution, String id) {
        boolean isMade = call.method().equals("POST") && id.isEmpty();
        if (!isMade && !call.method().equals("GET")) {
            throw new Refusal(501, "NotImplemented", call.method() + " is not part of the simulated account");
        }
        gatekeeper.demand(
                call,
                isMade
                        ? "cloudfront:CreateInvalidation"
                        : id.isEmpty() ? "cloudfront:ListInvalidations" : "cloudfront:GetInvalidation",
                distribution);
        if (state.line("distribution", distribution)
                .filter(line -> line.outcome() == SurveyLine.Outcome.FOUND)
                .isEmpty()) {
            throw new Refusal(404, "NoSuchDistribution", "The specified distribution does not exist.");
        }
        List<Batch> batches = byDistribution.computeIfAbsent(distribution, arn -> new ArrayList<>());
        if (isMade) {
            return made(call, distribution, batches);
        }
        return id.isEmpty()
                ? list(call, batches)
                : Reply.xml(
                        200,
                        spelled(batches.stream()
                                .filter(batch -> batch.id().equals(id))
                                .findFirst()
                                .orElseThrow(() -> new Refusal(
                                        404, "NoSuchInvalidation", "The specified invalidation does not exist."))));
    }

    private Reply made(Call call, String distribution, List<Batch> batches) {
        JsonPart asked = JsonReader.read(WireReading.json(InvalidationBatch.builder(), call.body()))
                .root()
                .orElseThrow();
        List<String> paths = asked.list("Paths", "Items").stream()
                .flatMap(path -> path.scalar().stream())
                .toList();
        boolean isCounted = asked.text("Paths", "Quantity")
                .filter(Integer.toString(paths.size())::equals)
                .isPresent();
        if (paths.isEmpty() || !isCounted) {
            throw new Refusal(
                    400, "InconsistentQuantities", "The value of Quantity and the size of Items do not match.");
        }
        if (paths.stream().anyMatch(path -> !path.startsWith("/"))) {
            throw new Refusal(400, "InvalidArgument", "Your request contains one or more invalid invalidation paths.");
        }
        String reference = asked.text("CallerReference").orElse("");
        Optional<Batch> same = batches.stream()
                .filter(batch ->
                        batch.reference().equals(reference) && batch.paths().equals(paths))
                .findFirst();
        Batch batch = same.orElseGet(() -> {
            Batch made = new Batch(
                    String.format(Locale.ROOT, "I%013d", ++number),
                    reference,
                    clock.instant().truncatedTo(ChronoUnit.SECONDS),
                    paths);
            batches.add(0, made);
            paths.forEach(path -> all.add(distribution + " " + path));
            return made;
        });
        Reply reply = Reply.xml(201, spelled(batch));
        reply.headers().put("Location", "https://cloudfront.amazonaws.com" + call.path() + "/" + batch.id());
        return reply;
    }

    private static String spelled(Batch batch) {
        return XmlText.of("Invalidation", AccountApi.space("cloudfront"), xml -> told(xml, batch)
                .element("InvalidationBatch", asked -> asked.element("Paths", paths -> paths.text(
                                        "Quantity", batch.paths().size())
                                .element("Items", items -> batch.paths().forEach(path -> items.text("Path", path))))
                        .text("CallerReference", batch.reference())));
    }

    private static XmlText told(XmlText xml, Batch batch) {
        return xml.text("Id", batch.id()).text("Status", "Completed").text("CreateTime", batch.at());
    }

    private static Reply list(Call call, List<Batch> batches) {
        int most = call.parameter("MaxItems")
                .filter(text -> text.matches("[0-9]{1,3}"))
                .map(text -> Math.min(MOST_LISTED, Integer.parseInt(text)))
                .orElse(MOST_LISTED);
        String marker = call.parameter("Marker").orElse("");
        Stream<Batch> from = marker.isEmpty()
                ? batches.stream()
                : batches.stream()
                        .dropWhile(batch -> !batch.id().equals(marker))
                        .skip(1);
        List<Batch> rest = from.toList();
        List<Batch> page = rest.stream().limit(most).toList();
        boolean goesOn = page.size() < rest.size();
        return Reply.xml(200, XmlText.of("InvalidationList", AccountApi.space("cloudfront"), xml -> {
            xml.text("Marker", marker).text("MaxItems", most).text("IsTruncated", goesOn);
            if (goesOn) {
                xml.text("NextMarker", page.get(page.size() - 1).id());
            }
            xml.text("Quantity", page.size())
                    .element(
                            "Items",
                            items -> page.forEach(
                                    batch -> items.element("InvalidationSummary", each -> each.text("Id", batch.id())
                                            .text("CreateTime", batch.at())
                                            .text("Status", "Completed"))));
        }));
    }
}
