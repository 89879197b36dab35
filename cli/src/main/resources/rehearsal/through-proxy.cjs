// Loaded before a rehearsed command's own code. Node before 24 heeds no proxy in its environment, so that a library which knows no endpoint variable
// would pass the simulated account by.
'use strict';
const major = Number(process.versions.node.split('.')[0]);
if (major < 24 && process.env.HTTPS_PROXY) {
    const http = require('http');
    const https = require('https');
    const tls = require('tls');
    const proxy = new URL(process.env.HTTPS_PROXY);
    const isLoopback = host => !host || host === 'localhost' || host === '::1' || /^127\./.test(host);
    const direct = https.Agent.prototype.createConnection;
    https.Agent.prototype.createConnection = function (options, done) {
        if (isLoopback(options.host)) {
            return direct.call(this, options, done);
        }
        const request = http.request({
            host: proxy.hostname,
            port: proxy.port,
            method: 'CONNECT',
            path: `${options.host}:${options.port || 443}`,
            agent: false,
        });
        request.once('connect', (answer, socket) => {
            if (answer.statusCode !== 200) {
                socket.destroy();
                done(new Error(`the rehearsal does not reach ${options.host}`));
                return;
            }
            done(null, tls.connect({ ...options, socket, servername: options.servername || options.host }));
        });
        request.once('error', done);
        request.end();
        return undefined;
    };
}
