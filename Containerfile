# An image with everything that serving needs. The data folder is a volume: see docs/running.md.
FROM node:20-bookworm-slim
RUN apt-get update && apt-get install -y --no-install-recommends git util-linux && rm -rf /var/lib/apt/lists/*
WORKDIR /opt/earnest-lens
COPY . .
RUN npm run build && mkdir /data && chown -R node:node /data /opt/earnest-lens
USER node
ENV LENS_DATA=/data PORT=4310
VOLUME /data
EXPOSE 4310
HEALTHCHECK --interval=30s --timeout=5s --start-period=60s CMD node -e "fetch('http://127.0.0.1:'+process.env.PORT+'/api/health').then((r)=>process.exit(r.ok?0:1),()=>process.exit(1))"
CMD ["npm", "start", "--silent"]
