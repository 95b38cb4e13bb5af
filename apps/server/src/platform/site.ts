let address = ''
/** Where people reach this server, as the letters say that it sends by itself: set by the environment, else the port it listens on. */
export const useSite = (url: string) => void (address = url.replace(/\/$/, ''))
export const siteAddress = (): string => address
