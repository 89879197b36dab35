package warden.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import warden.core.document.Json;

/** A plan of 50 MB, made into a survey. */
final class PlanBench {
    private static final long LARGE = 49_500_000;
    private static final double BOUND = 10;

    private final List<Object> resources = new ArrayList<>();
    private final List<Object> changes = new ArrayList<>();
    private long size;

    private PlanBench() {}

    /** Measures the seconds that the survey of the plan takes, in a heap of 512 MB. */
    static void run() throws Exception {
        StartBench.awaitArchive();
        Path plan = Files.createTempFile("plan", ".json");
        Path survey = Files.createTempFile("planned", ".ndjson");
        try {
            int sites = new PlanBench().write(plan);
            List<String> program = List.of(
                    "env",
                    "JDK_JAVA_OPTIONS=-Xmx512m",
                    "./gentle-warden",
                    "survey",
                    "-q",
                    "--template=" + plan,
                    "--account=210987654321",
                    "--region=eu-west-1",
                    "--force",
                    "--output=" + survey);
            Spent spent = Spent.median(1, () -> Spent.by(program));
            Bench.print("a plan of %d sites, %.0f MB", sites, Files.size(plan) / 1e6);
            Bench.print("  %.1f s; %.1f s of processor time (bound %.0f s)", spent.wall(), spent.processor(), BOUND);
        } finally {
            Files.delete(plan);
            Files.delete(survey);
        }
    }

    private int write(Path plan) throws IOException {
        int sites = 0;
        for (; size < LARGE; sites++) {
            site(sites);
        }
        Files.writeString(
                plan,
                Json.text(Json.object(
                        "format_version",
                        "1.2",
                        "planned_values",
                        Json.object("root_module", Json.object("resources", resources)),
                        "resource_changes",
                        changes,
                        "configuration",
                        Json.object("root_module", Json.object()))));
        return sites;
    }

    private void site(int i) {
        String name = String.format("site-%05d", i);
        String bucket = name + "-content";
        String host = name + ".heronferry.example";
        add("aws_s3_bucket", name, Json.object("bucket", bucket));
        add(
                "aws_s3_bucket_public_access_block",
                name,
                Json.object(
                        "bucket", bucket,
                        "block_public_acls", true,
                        "block_public_policy", true,
                        "ignore_public_acls", true,
                        "restrict_public_buckets", true));
        String policy = Json.text(Json.object(
                "Version",
                "2012-10-17",
                "Statement",
                List.of(Json.object(
                        "Effect",
                        "Allow",
                        "Principal",
                        Json.object("Service", "cloudfront.amazonaws.com"),
                        "Action",
                        "s3:GetObject",
                        "Resource",
                        "arn:aws:s3:::" + bucket + "/*"))));
        add("aws_s3_bucket_policy", name, Json.object("bucket", bucket, "policy", policy));
        add(
                "aws_s3_bucket_versioning",
                name,
                Json.object("bucket", bucket, "versioning_configuration", List.of(Json.object("status", "Enabled"))));
        add(
                "aws_cloudfront_distribution",
                name,
                Json.object(
                        "enabled",
                        true,
                        "aliases",
                        List.of(host),
                        "default_root_object",
                        "index.html",
                        "origin",
                        List.of(Json.object(
                                "origin_id", "content",
                                "domain_name", bucket + ".s3.eu-west-1.amazonaws.com",
                                "origin_access_control_id", "E2CONTROL")),
                        "default_cache_behavior",
                        List.of(Json.object(
                                "target_origin_id", "content",
                                "viewer_protocol_policy", "redirect-to-https",
                                "allowed_methods", List.of("GET", "HEAD"),
                                "cached_methods", List.of("GET", "HEAD"),
                                "cache_policy_id", "658327ea-f89d-4fab-a63d-7e88639e58f6")),
                        "viewer_certificate",
                        List.of(Json.object("cloudfront_default_certificate", true))));
        add(
                "aws_route53_record",
                name,
                Json.object(
                        "zone_id",
                        "Z08HERONSOUND1",
                        "name",
                        host,
                        "type",
                        "A",
                        "alias",
                        List.of(Json.object("name", "d" + i + ".cloudfront.net", "zone_id", "Z2FDTNDATAQYW2"))));
    }

    private void add(String type, String name, Object values) {
        String address = type + "." + name;
        Object resource =
                Json.object("address", address, "mode", "managed", "type", type, "name", name, "values", values);
        Object change = Json.object(
                "address",
                address,
                "mode",
                "managed",
                "type",
                type,
                "name",
                name,
                "change",
                Json.object("actions", List.of("create"), "after", values, "after_unknown", Json.object("id", true)));
        resources.add(resource);
        changes.add(change);
        size += Json.text(resource).length() + Json.text(change).length();
    }
}
