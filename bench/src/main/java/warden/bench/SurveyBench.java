package warden.bench;

import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.LongSupplier;
import warden.gather.aws.AwsAnswerForm;
import warden.gather.aws.LiveSettings;
import warden.gather.aws.LiveSurvey;
import warden.gather.live.ReadingLog;
import warden.standin.Faults;
import warden.standin.aws.StandIn;
import warden.standin.azure.AzureStandIn;

/** Surveys of a simulated account that is as slow as a distant one, taken by the program and by its script. */
final class SurveyBench {
    private static final int BUCKETS = 200;
    private static final int DISTRIBUTIONS = 50;
    private static final int ACCOUNTS = 100;
    private static final String SURVEYOR = "33333333-4444-4555-8666-777777777777";
    private static final int MEMBERS = 200;
    private static final long FIRST_MEMBER = 100_000_000_000L;
    private static final int LATENCY_MILLIS = 50;
    private static final int PARALLEL = 8;
    private static final String ACCOUNT = "210987654321";

    private SurveyBench() {}

    /** Compares a survey's time with the time that its calls alone need at that latency. */
    static void run() throws Exception {
        StandIn.start(account(2, 1), "warm-up", (bucket, key) -> Optional.empty(), Faults.none(), 0, Clock.systemUTC())
                .close();
        try (StandIn standIn = StandIn.start(
                account(BUCKETS, DISTRIBUTIONS),
                "bench",
                (bucket, key) -> Optional.empty(),
                new Faults(LATENCY_MILLIS, 0, 0, 0, Set.of()),
                0,
                Clock.systemUTC())) {
            long start = System.nanoTime();
            survey(standIn);
            double took = (System.nanoTime() - start) / 1e9;
            double bound = standIn.calls() * (LATENCY_MILLIS / 1e3) / PARALLEL;
            Bench.print(
                    "survey of %d buckets and %d distributions: %d calls at %d ms, %d at once",
                    BUCKETS, DISTRIBUTIONS, standIn.calls(), LATENCY_MILLIS, PARALLEL);
            Bench.print("  %.1f s; the calls alone need %.1f s: ratio %.2f (bound 1.3)", took, bound, took / bound);
        }
    }

    /** The same of a subscription of 100 storage accounts with an edge each. */
    static void subscription() throws Exception {
        StartBench.awaitArchive();
        Path file = Files.createTempFile("subscription", ".ndjson");
        StampedSubscription.write(file, ACCOUNTS);
        Path keys = Files.createTempDirectory("bench");
        try (AzureStandIn standIn = AzureStandIn.start(
                Files.readString(file),
                "bench",
                new Faults(LATENCY_MILLIS, 0, 0, 0, Set.of()),
                0,
                keys,
                Clock.systemUTC())) {
            List<String> program = List.of(
                    "env",
                    "JDK_JAVA_OPTIONS=-Xmx256m",
                    "REQUESTS_CA_BUNDLE=" + standIn.authority(),
                    "AZURE_TENANT_ID=bench",
                    "AZURE_CLIENT_ID=" + SURVEYOR,
                    "AZURE_CLIENT_SECRET=any",
                    "./gentle-warden",
                    "survey",
                    "-q",
                    "--provider=azure",
                    "--endpoint=" + standIn.endpoint(),
                    "--parallel=" + PARALLEL,
                    "--force",
                    "--output=" + file);
            compare("survey of " + ACCOUNTS + " storage accounts", program, standIn::calls);
        } finally {
            Files.deleteIfExists(file);
        }
    }

    /** The same of an organization of 200 accounts, in each of which a role is assumed. */
    static void organization() throws Exception {
        StartBench.awaitArchive();
        List<Map.Entry<String, String>> accounts = new ArrayList<>();
        for (int i = 0; i < MEMBERS; i++) {
            accounts.add(Map.entry("bench", member(i)));
        }
        Path folder = Files.createTempDirectory("bench");
        try (StandIn standIn = StandIn.start(
                accounts,
                (bucket, key) -> Optional.empty(),
                StandIn.Settings.of(new Faults(LATENCY_MILLIS, 0, 0, 0, Set.of())),
                0,
                Clock.systemUTC())) {
            List<String> program = List.of(
                    "env",
                    "JDK_JAVA_OPTIONS=-Xmx256m",
                    "AWS_ACCESS_KEY_ID=" + StandIn.keyOf("arn:aws:iam::" + FIRST_MEMBER + ":root"),
                    "AWS_SECRET_ACCESS_KEY=any",
                    "AWS_REGION=eu-west-1",
                    "./gentle-warden",
                    "survey",
                    "-q",
                    "--organization",
                    "--role=survey",
                    "--endpoint=" + standIn.endpoint(),
                    "--parallel=" + PARALLEL,
                    "--force",
                    "--output=" + folder);
            compare("survey of an organization of " + MEMBERS + " accounts", program, standIn::calls);
        }
    }

    /** Compares a survey's time, through the launcher, with the time that its calls alone need. */
    private static void compare(String what, List<String> program, LongSupplier answered) throws Exception {
        Spent.by(program);
        long before = answered.getAsLong();
        Spent.by(program);
        long calls = answered.getAsLong() - before;
        double took = Spent.median(0, () -> Spent.by(program)).wall();
        double bound = calls * (LATENCY_MILLIS / 1e3) / PARALLEL;
        Bench.print("%s through the launcher: %d calls at %d ms, %d at once", what, calls, LATENCY_MILLIS, PARALLEL);
        Bench.print("  %.1f s; the calls alone need %.1f s: ratio %.2f (bound 1.3)", took, bound, took / bound);
    }

    private static String member(int i) {
        String account = Long.toString(FIRST_MEMBER + i);
        String role = "arn:aws:iam::" + account + ":role/survey";
        return Surveys.json("{'survey':1,'provider':'aws','account':'" + account + "','takenAt':'','takenBy':''}\n"
                + "{'aspect':'bucket-list','of':'" + account + "','call':'x','found':{'Buckets':[]}}\n"
                + "{'aspect':'distribution-list','of':'" + account
                + "','call':'x','found':{'DistributionList':{'IsTruncated':false,'Items':[]}}}\n"
                + "{'aspect':'zone-list','of':'" + account
                + "','call':'x','found':{'HostedZones':[],'IsTruncated':false}}\n"
                + "{'aspect':'iam-role','of':'" + role + "','call':'x','found':{'RoleName':'survey','Arn':'" + role
                + "','AssumeRolePolicyDocument':{'Version':'2012-10-17','Statement':[{'Effect':'Allow','Principal':{'AWS':'arn:aws:iam::"
                + FIRST_MEMBER
                + ":root'},'Action':'sts:AssumeRole'}]},'RolePolicyList':[{'PolicyName':'p','PolicyDocument':{'Version':'2012-10-17',"
                + "'Statement':[{'Effect':'Allow','Action':'*','Resource':'*'}]}}],'AttachedManagedPolicies':[]}}\n");
    }

    /** The shell script for the official command line on a tenth of the account; left out where that is not installed. */
    static void script() throws Exception {
        Path folder = Files.createTempDirectory("bench");
        Path script = Files.writeString(
                folder.resolve("survey.sh"), new AwsAnswerForm().script().text());
        try (StandIn standIn = StandIn.start(
                account(BUCKETS / 10, DISTRIBUTIONS / 10),
                "bench",
                (bucket, key) -> Optional.empty(),
                new Faults(LATENCY_MILLIS, 0, 0, 0, Set.of()),
                0,
                Clock.systemUTC())) {
            ProcessBuilder shell = new ProcessBuilder("sh", script.toString())
                    .directory(folder.toFile())
                    .redirectErrorStream(true)
                    .redirectOutput(ProcessBuilder.Redirect.DISCARD);
            shell.environment().put("ENDPOINT", standIn.endpoint());
            shell.environment().put("AWS_ACCESS_KEY_ID", StandIn.keyOf("arn:aws:iam::" + ACCOUNT + ":root"));
            shell.environment().put("AWS_SECRET_ACCESS_KEY", "any");
            shell.environment().put("AWS_REGION", "eu-west-1");
            shell.environment().put("AWS_DEFAULT_REGION", "eu-west-1");
            shell.environment().put("PATH", "/usr/bin:/bin");
            long start = System.nanoTime();
            int code = shell.start().waitFor();
            double took = (System.nanoTime() - start) / 1e9;
            Bench.print(
                    "the script on a tenth of that: %d calls in %.0f s (exit code %d)", standIn.calls(), took, code);
        }
    }

    private static void survey(StandIn standIn) throws Exception {
        Path file = Files.createTempFile("bench", ".ndjson");
        LiveSettings settings = new LiveSettings(
                Optional.empty(),
                Optional.of("eu-west-1"),
                Optional.of(standIn.endpoint()),
                PARALLEL,
                1_000,
                200,
                Optional.empty(),
                Optional.of(StandIn.keyOf("arn:aws:iam::" + ACCOUNT + ":root")));
        try (Writer out = Files.newBufferedWriter(file);
                LiveSurvey survey = new LiveSurvey(settings, new ReadingLog(out, Set.of(), (done, due) -> {}))) {
            survey.begin(file.toString(), "2026-11-24T00:00:00Z");
            survey.run();
        } finally {
            Files.deleteIfExists(file);
        }
    }

    private static String account(int buckets, int distributions) {
        StringBuilder list = new StringBuilder();
        StringBuilder items = new StringBuilder();
        StringBuilder lines = new StringBuilder();
        for (int i = 0; i < buckets; i++) {
            String arn = "arn:aws:s3:::quay-" + i;
            list.append(i == 0 ? "" : ",")
                    .append("{\"Name\":\"quay-")
                    .append(i)
                    .append("\",\"CreationDate\":\"2024-01-01T00:00:00+00:00\"}");
            lines.append(found("bucket-location", arn, "{\"LocationConstraint\":\"eu-west-1\"}"))
                    .append(absent("bucket-policy", arn, "NoSuchBucketPolicy"))
                    .append(absent("bucket-public-access", arn, "NoSuchPublicAccessBlockConfiguration"))
                    .append(absent("bucket-ownership", arn, "OwnershipControlsNotFoundError"))
                    .append(absent("bucket-website", arn, "NoSuchWebsiteConfiguration"))
                    .append(absent("bucket-cors", arn, "NoSuchCORSConfiguration"))
                    .append(absent("bucket-lifecycle", arn, "NoSuchLifecycleConfiguration"))
                    .append(found("bucket-versioning", arn, "{}"))
                    .append(found("bucket-logging", arn, "{}"))
                    .append(found("bucket-payer", arn, "{\"Payer\":\"BucketOwner\"}"))
                    .append(found("bucket-objects", arn, "{\"Contents\":[],\"IsTruncated\":false}"));
        }
        for (int i = 0; i < distributions; i++) {
            String arn = "arn:aws:cloudfront::" + ACCOUNT + ":distribution/E" + i;
            items.append(i == 0 ? "" : ",")
                    .append("{\"Id\":\"E" + i + "\",\"ARN\":\"" + arn + "\",\"DomainName\":\"d" + i
                            + ".cloudfront.net\"}");
            lines.append(found(
                    "distribution",
                    arn,
                    "{\"Distribution\":{\"Id\":\"E" + i + "\",\"ARN\":\"" + arn + "\",\"Status\":\"Deployed\","
                            + "\"DomainName\":\"d" + i + ".cloudfront.net\",\"DistributionConfig\":{\"Enabled\":true,"
                            + "\"Origins\":{\"Quantity\":1,\"Items\":[{\"Id\":\"o\",\"DomainName\":\"quay-" + i
                            + ".s3.eu-west-1.amazonaws.com\"}]},\"DefaultCacheBehavior\":{\"TargetOriginId\":\"o\","
                            + "\"ViewerProtocolPolicy\":\"redirect-to-https\"}}}}"));
        }
        return "{\"survey\":1,\"provider\":\"aws\",\"account\":\"" + ACCOUNT + "\"}\n"
                + found("bucket-list", ACCOUNT, "{\"Buckets\":[" + list + "]}")
                + found(
                        "distribution-list",
                        ACCOUNT,
                        "{\"DistributionList\":{\"IsTruncated\":false,\"Items\":[" + items + "]}}")
                + found("zone-list", ACCOUNT, "{\"HostedZones\":[],\"IsTruncated\":false,\"MaxItems\":\"100\"}")
                + lines;
    }

    private static String found(String aspect, String of, String body) {
        return "{\"aspect\":\"" + aspect + "\",\"of\":\"" + of + "\",\"found\":" + body + "}\n";
    }

    private static String absent(String aspect, String of, String code) {
        return "{\"aspect\":\"" + aspect + "\",\"of\":\"" + of + "\",\"absent\":\"" + code + "\"}\n";
    }
}
