package warden.query;

import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Collectors;

/**
 * An event of the log, made up: mostly such as a deployment leaves, with some that are incomplete, refused, or written by somebody who wants a
 * star proposed. A value that is null is missing.
 */
record GeneratedEvent(
        String time,
        String source,
        String name,
        String error,
        String account,
        String caller,
        String issuer,
        Map<String, String> parameters,
        List<String> resources) {
    private static final String NUMBER = "210987654321";
    private static final List<String> NAMES = List.of(
            "s3.amazonaws.com GetObject",
            "s3.amazonaws.com PutObject",
            "s3.amazonaws.com DeleteObject",
            "s3.amazonaws.com DeleteObjects",
            "s3.amazonaws.com ListObjectsV2",
            "s3.amazonaws.com HeadObject",
            "s3.amazonaws.com CompleteMultipartUpload",
            "s3.amazonaws.com ListBuckets",
            "s3.amazonaws.com GetBucketPolicy",
            "s3.amazonaws.com *",
            "cloudfront.amazonaws.com CreateInvalidation2020_05_31",
            "cloudfront.amazonaws.com ListDistributions2020_05_31",
            "kms.amazonaws.com GenerateDataKey",
            "kms.amazonaws.com Decrypt",
            "sts.amazonaws.com GetCallerIdentity",
            "sts.amazonaws.com AssumeRole",
            "route53.amazonaws.com ChangeResourceRecordSets",
            "iam.amazonaws.com NoSuchAction",
            "un*known.amazonaws.com Do",
            "nodots GetObject",
            "madeup.amazonaws.com DoIt");
    private static final List<String> CALLERS = List.of(
            "arn:aws:iam::" + NUMBER + ":user/deployer",
            "arn:aws:sts::" + NUMBER + ":assumed-role/timetables-publisher/run-",
            "arn:aws:sts::" + NUMBER + ":assumed-role/tickets-publisher/it's-",
            "AIDAEXAMPLE");
    private static final List<String> BUCKETS =
            List.of("timetables", "tickets.example", "photos-2026", "*", "a/b", "$(x)", "");
    private static final List<String> RESOURCES = List.of(
            "arn:aws:kms:eu-west-1:" + NUMBER + ":key/1",
            "arn:aws:kms:eu-west-1:" + NUMBER + ":key/2",
            "arn:aws:kms:*:" + NUMBER + ":key/*",
            "arn:aws:route53:::hostedzone/Z1",
            "not an arn",
            "");

    private static <T> T one(Random random, List<T> of) {
        return of.get(random.nextInt(of.size()));
    }

    static GeneratedEvent of(Random random) {
        String[] named = one(random, NAMES).split(" ");
        String caller = one(random, CALLERS);
        boolean isSession = caller.endsWith("-");
        boolean tellsRole = isSession && random.nextInt(10) > 0;
        String role = isSession ? caller.split("/")[1] : "";
        Map<String, String> parameters = new java.util.TreeMap<>();
        if (named[0].startsWith("s3") && random.nextInt(20) > 0) {
            parameters.put(
                    "bucketName", random.nextInt(20) == 0 ? one(random, BUCKETS) : one(random, BUCKETS.subList(0, 3)));
            if (random.nextInt(4) > 0) {
                parameters.put("key", "seiten/\"" + random.nextInt(1_000) + "\".html");
            }
        }
        if (named[0].startsWith("cloudfront") && random.nextInt(10) > 0) {
            parameters.put("distributionId", random.nextInt(30) == 0 ? "*" : "E" + random.nextInt(3));
        }
        int count = named[0].startsWith("kms") || random.nextInt(10) == 0 ? 1 + random.nextInt(2) : 0;
        List<String> resources =
                random.ints(count, 0, RESOURCES.size()).mapToObj(RESOURCES::get).collect(Collectors.toList());
        return new GeneratedEvent(
                "2026-%02d-%02dT%02d:%02d:50Z"
                        .formatted(
                                8 + random.nextInt(4), 1 + random.nextInt(28), random.nextInt(24), random.nextInt(60)),
                random.nextInt(500) == 0 ? null : named[0],
                random.nextInt(500) == 0 ? null : named[1],
                random.nextInt(12) == 0 ? "AccessDenied" : null,
                random.nextInt(100) == 0 ? null : NUMBER,
                random.nextInt(100) == 0 ? null : isSession ? caller + random.nextInt(50) : caller,
                tellsRole ? "arn:aws:iam::" + NUMBER + ":role/" + role : null,
                random.nextInt(50) == 0 ? null : parameters,
                resources);
    }

    static String json(String text) {
        return text == null ? "null" : "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
    }

    private String parametersSpelled() {
        return parameters == null
                ? null
                : parameters.entrySet().stream()
                        .map(each -> json(each.getKey()) + ":" + json(each.getValue()))
                        .collect(Collectors.joining(",", "{", "}"));
    }

    /** As a log file has it. */
    String json() {
        StringBuilder text = new StringBuilder("{\"eventTime\":").append(json(time));
        text.append(",\"userIdentity\":{\"type\":\"x\",\"arn\":").append(json(caller));
        if (issuer != null) {
            text.append(",\"sessionContext\":{\"sessionIssuer\":{\"arn\":")
                    .append(json(issuer))
                    .append("}}");
        }
        text.append('}');
        Map.of("eventSource", String.valueOf(source), "eventName", String.valueOf(name)).entrySet().stream()
                .sorted(Map.Entry.comparingByKey())
                .filter(each -> !each.getValue().equals("null"))
                .forEach(each ->
                        text.append(",\"").append(each.getKey()).append("\":").append(json(each.getValue())));
        text.append(error == null ? "" : ",\"errorCode\":" + json(error));
        text.append(account == null ? "" : ",\"recipientAccountId\":" + json(account));
        text.append(",\"requestParameters\":").append(parametersSpelled());
        text.append(",\"resources\":")
                .append(resources.stream()
                        .map(each -> "{\"type\":\"x\",\"ARN\":" + json(each) + "}")
                        .collect(Collectors.joining(",", "[", "]")));
        return text.append('}').toString();
    }
}
