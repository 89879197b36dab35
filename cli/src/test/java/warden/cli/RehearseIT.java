package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import warden.core.document.JsonReader;

/** Whole deployments by the clients that people use, rehearsed by the built program through its launcher. */
class RehearseIT {
    private static final Path HOME = Path.of("..").toAbsolutePath().normalize();
    private static final Path PACKAGES = HOME.resolve("target/clients/node_modules");

    @TempDir
    private Path folder;

    private record Said(int code, String out, String err) {}

    @BeforeEach
    void pages() throws IOException {
        Path site = Files.createDirectories(folder.resolve("site/assets"));
        Files.writeString(folder.resolve("site/index.html"), "<h1>Sailings</h1>\n");
        Files.writeString(site.resolve("a b.css"), "h1 { color: navy }\n");
        Files.write(site.resolve("film.bin"), new byte[9 * 1024 * 1024]);
    }

    private List<String> command(String as, String... command) {
        List<String> words = new ArrayList<>(List.of(
                HOME.resolve("gentle-warden").toString(),
                "rehearse",
                "--quiet",
                "--survey",
                HOME.resolve("demo/heron-sound-ferries.ndjson").toString(),
                "--as",
                as,
                "--record",
                folder.resolve("record.ndjson").toString(),
                "--output",
                folder.resolve("report.txt").toString(),
                "--"));
        words.addAll(List.of(command));
        return words;
    }

    private Process started(String as, String... command) throws IOException {
        return new ProcessBuilder(command(as, command))
                .directory(folder.toFile())
                .redirectOutput(folder.resolve("out").toFile())
                .redirectError(folder.resolve("err").toFile())
                .start();
    }

    private Said rehearse(String as, String... command) throws Exception {
        int code = started(as, command).waitFor();
        return new Said(code, Files.readString(folder.resolve("out")), Files.readString(folder.resolve("err")));
    }

    private String report() throws IOException {
        return Files.readString(folder.resolve("report.txt"));
    }

    private List<String> operations() throws IOException {
        return Files.readAllLines(folder.resolve("record.ndjson")).stream()
                .flatMap(line -> JsonReader.read(line).root().stream())
                .flatMap(line -> line.text("operation").stream())
                .toList();
    }

    private static void assume(String program) {
        assumeTrue(Files.isExecutable(Path.of(program)), program + " is not installed");
    }

    /** It is older than the variable that names an endpoint: only the proxy leads it. */
    @Test
    void theOfficialCommandLineOfTheSystemPublishes() throws Exception {
        assume("/usr/bin/aws");
        Files.writeString(folder.resolve("publish.sh"), """
                set -eu
                /usr/bin/aws sts get-caller-identity --query Arn --output text
                /usr/bin/aws s3 sync site s3://heronferry-www-content/ --delete --no-progress --cache-control no-cache
                id=$(/usr/bin/aws cloudfront create-invalidation --distribution-id E2WQ7HERONWWW --paths '/*' \\
                    --query Invalidation.Id --output text)
                /usr/bin/aws cloudfront wait invalidation-completed --distribution-id E2WQ7HERONWWW --id "$id"
                """);
        Said said = rehearse("www-publisher", "sh", "publish.sh");
        assertThat(said.out()).startsWith("arn:aws:sts::210987654321:assumed-role/www-publisher/rehearsal");
        // The publisher may not look at its invalidations, and the wait says so.
        assertThat(said.code()).as(said.err() + report()).isEqualTo(ExitCode.FOUND.number());
        assertThat(operations())
                .contains(
                        "GetCallerIdentity",
                        "UploadPart",
                        "CompleteMultipartUpload",
                        "DeleteObject",
                        "GetInvalidation");
        assertThat(report()).contains("cloudfront:GetInvalidation", "E2WQ7HERONWWW: invalidated /*");
        assertThat(rehearse("harbour-engineers", "sh", "publish.sh").code())
                .as(report())
                .isZero();
        assertThat(report()).contains("The deployment would work");
    }

    @Test
    void aSignedRequestByHandReachesTheProvidersOwnHost() throws Exception {
        assume("/usr/bin/curl");
        Files.writeString(folder.resolve("put.sh"), """
                set -eu
                host=heronferry-www-content.s3.$AWS_REGION.amazonaws.com
                curl -sS --fail --aws-sigv4 "aws:amz:$AWS_REGION:s3" -u "$AWS_ACCESS_KEY_ID:$AWS_SECRET_ACCESS_KEY" \\
                    -H "x-amz-security-token: $AWS_SESSION_TOKEN" -H 'x-amz-content-sha256: UNSIGNED-PAYLOAD' \\
                    -T site/index.html "https://$host/hand.html"
                curl -sS --fail https://www.heronferry.example/ >/dev/null
                ! curl -sS --fail https://packages.example/
                """);
        Said said = rehearse("www-publisher", "sh", "put.sh");
        assertThat(said.code()).as(said.err() + report()).isZero();
        assertThat(report()).contains("1 uploaded", "packages.example, 1 time");
    }

    @Test
    void theOfficialLibraryForJavaScriptPublishes() throws Exception {
        assumeTrue(Files.isDirectory(PACKAGES.resolve("@aws-sdk/lib-storage")), "the library is not installed");
        Files.createSymbolicLink(folder.resolve("node_modules"), PACKAGES);
        Files.writeString(folder.resolve("publish.mjs"), """
                import { readFileSync } from 'node:fs';
                import { S3Client, PutObjectCommand, CopyObjectCommand, DeleteObjectsCommand, GetObjectCommand } from '@aws-sdk/client-s3';
                import { Upload } from '@aws-sdk/lib-storage';
                const s3 = new S3Client({});
                const Bucket = 'heronferry-www-content';
                await s3.send(new PutObjectCommand({ Bucket, Key: 'js/a b.html', Body: '<p>js', ContentType: 'text/html' }));
                await new Upload({ client: s3, params: { Bucket, Key: 'js/film', Body: readFileSync('site/assets/film.bin') } }).done();
                await s3.send(new CopyObjectCommand({ Bucket, Key: 'js/c', CopySource: encodeURI(Bucket + '/js/a b.html') }));
                const got = await s3.send(new GetObjectCommand({ Bucket, Key: 'js/c' }));
                if (await got.Body.transformToString() !== '<p>js') process.exit(3);
                const gone = await s3.send(new DeleteObjectsCommand({ Bucket, Delete: { Objects: [{ Key: 'js/c' }] } }));
                if (gone.Deleted.length !== 1) process.exit(4);
                """);
        Said said = rehearse("harbour-engineers", "node", "publish.mjs");
        assertThat(said.code()).as(said.err() + report()).isZero();
        assertThat(operations()).contains("CopyObject", "DeleteObjects", "CompleteMultipartUpload");
        assertThat(rehearse("www-publisher", "node", "publish.mjs").code()).isEqualTo(ExitCode.FOUND.number());
        assertThat(report()).contains("s3:GetObject on arn:aws:s3:::heronferry-www-content/js/a b.html");
    }

    /**
     * One is built on today's library, the other on the one before, which knows no endpoint variable and no proxy, and opens what it puts to the
     * world, so that it needs a bucket that takes access lists.
     */
    @Test
    void packagesThatUploadFoldersPublish() throws Exception {
        assumeTrue(Files.isDirectory(PACKAGES.resolve("s3-sync-client")), "the packages are not installed");
        assumeTrue(Files.isDirectory(PACKAGES.resolve("s3-deploy")), "the packages are not installed");
        Files.createSymbolicLink(folder.resolve("node_modules"), PACKAGES);
        Files.writeString(folder.resolve("sync.mjs"), """
                import { S3Client } from '@aws-sdk/client-s3';
                import { S3SyncClient } from 's3-sync-client';
                const { sync } = new S3SyncClient({ client: new S3Client({}) });
                const done = await sync('site', 's3://heronferry-www-content', { del: true });
                if (done.created.length + done.updated.length !== 3 || done.deleted.length !== 7) process.exit(3);
                """);
        Said said = rehearse("www-publisher", "node", "sync.mjs");
        assertThat(said.code()).as(said.err() + report()).isZero();
        assertThat(report()).contains("2 uploaded, 1 overwritten, 7 deleted");
        Said other = rehearse(
                "harbour-engineers",
                "node_modules/.bin/s3-deploy",
                "./site/**",
                "--cwd",
                "./site/",
                "--region",
                "eu-west-1",
                "--bucket",
                "timetables.heronferry.example");
        assertThat(other.code()).as(other.err() + report()).isZero();
        assertThat(report()).contains("timetables.heronferry.example: ").doesNotContain("Other hosts");
    }

    @Test
    void theOfficialLibraryForPythonPublishes() throws Exception {
        Process asked = new ProcessBuilder("python3", "-c", "import boto3").start();
        assumeTrue(asked.waitFor() == 0, "the library is not installed");
        Files.writeString(folder.resolve("publish.py"), """
                import boto3
                from botocore.exceptions import ClientError
                s3, bucket = boto3.client('s3'), 'heronferry-www-content'
                s3.put_object(Bucket=bucket, Key='py/a.html', Body=b'<p>', ContentType='text/html', Tagging='a=b')
                assert s3.get_object_tagging(Bucket=bucket, Key='py/a.html')['TagSet'] == [{'Key': 'a', 'Value': 'b'}]
                s3.upload_file('site/assets/film.bin', bucket, 'py/film')
                s3.copy({'Bucket': bucket, 'Key': 'py/film'}, bucket, 'py/film2')
                assert s3.head_object(Bucket=bucket, Key='py/film2')['ContentLength'] == 9 * 1024 * 1024
                pages = s3.get_paginator('list_objects_v2').paginate(Bucket=bucket, Prefix='py/', PaginationConfig={'PageSize': 1})
                assert len([each for page in pages for each in page['Contents']]) == 3
                assert len(s3.delete_objects(Bucket=bucket, Delete={'Objects': [{'Key': 'py/film'}]})['Deleted']) == 1
                try:
                    s3.put_object_acl(Bucket=bucket, Key='py/a.html', ACL='public-read')
                    raise SystemExit(5)
                except ClientError as refused:
                    assert refused.response['Error']['Code'] == 'AccessControlListNotSupported'
                edge = boto3.client('cloudfront')
                made = edge.create_invalidation(DistributionId='E2WQ7HERONWWW', InvalidationBatch={
                    'CallerReference': 'y', 'Paths': {'Quantity': 1, 'Items': ['/*']}})
                edge.get_waiter('invalidation_completed').wait(DistributionId='E2WQ7HERONWWW', Id=made['Invalidation']['Id'])
                """);
        Said said = rehearse("harbour-engineers", "python3", "publish.py");
        assertThat(said.code()).as(said.err() + report()).isZero();
        assertThat(operations()).contains("PutObjectAcl", "GetObjectTagging", "GetInvalidation");
    }

    @Test
    void anInterruptionLeavesNoProcessAndNoFile() throws Exception {
        Process process = started(
                "www-publisher", "sh", "-c", "echo $$ >pid; trap 'echo heard >heard; exit 7' INT; sleep 317 & wait");
        Path pid = folder.resolve("pid");
        for (int tenths = 0; tenths < 600 && !(Files.exists(pid) && Files.size(pid) > 0); tenths++) {
            Thread.sleep(100);
        }
        long command = Long.parseLong(Files.readString(pid).strip());
        new ProcessBuilder("kill", "-INT", Long.toString(process.pid())).start().waitFor();
        assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue()).isEqualTo(130);
        assertThat(folder.resolve("heard")).exists();
        assertThat(ProcessHandle.of(command).filter(ProcessHandle::isAlive)).isEmpty();
        // The launcher's maker of its archive bears the whole command line, and is none of the command's.
        try (Stream<ProcessHandle> all = ProcessHandle.allProcesses()) {
            assertThat(all.map(ProcessHandle::info)
                            .flatMap(info -> info.commandLine().stream())
                            .filter(line -> line.matches("(\\S*/)?sleep 317")))
                    .isEmpty();
        }
        // What there is of the record is good.
        assertThat(Files.readString(folder.resolve("record.ndjson"), StandardCharsets.UTF_8))
                .startsWith("{\"rehearsal\":1");
    }
}
